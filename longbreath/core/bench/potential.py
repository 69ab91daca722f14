"""What a port's flow may mean for power, and the ratio of exhaust to intake: rules of thumb, kept apart from evidence."""

from __future__ import annotations

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.bench.reduction import OFF_PRESSURE, refer

HP_PER_CFM = 0.257
"""Horsepower per cylinder and cfm at 28 inH2O. Common practice, no source."""
REFERENCE = units.from_unit(28.0, "column", "inH2O")


def power_potential(flow: float, pressure: float, cylinders: int) -> Figure:
    """Ceiling of power [W] of a good naturally aspirated four-stroke whose ports each flow `flow` [m3/s] at `pressure` [Pa].

    Raises InputError for a flow of nought or less or no cylinder. Source: 0.257 hp per cylinder per cfm at 28 inH2O,
    common practice, no source.
    """
    if flow <= 0:
        raise InputError("A flow must be more than nought.", "flow")
    if not 1 <= cylinders <= 24:
        raise InputError("An engine has from 1 to 24 cylinders.", "cylinders")
    at_28 = refer(flow, pressure, REFERENCE)
    value = units.from_unit(HP_PER_CFM, "power", "hp") / units.from_unit(1.0, "flow", "cfm") * at_28 * cylinders
    working = Working(
        "Power potential of a port",
        (
            Given("Q", "flow of one port, with everything bolted on", flow, "flow"),
            Given("Δp", "test pressure", pressure, "column"),
            Given("n", "cylinders", float(cylinders), "count"),
        ),
        (Step("Q_28", "Q·√(28 inH₂O/Δp)", at_28, "flow"), Step("P", "0.257 hp/cfm·Q_28·n", value, "power")),
        "Common practice, no source.",
        (
            "A ceiling for a good naturally aspirated four-stroke with everything bolted on; cam, compression and exhaust decide "
            "how much of it comes out. It is not power, and it backs no claim.",
        ),
    )
    return Figure("power_potential", "Power potential, a ceiling", value, "power", working, significant=2)


def exhaust_to_intake(exhaust: float, intake: float) -> Figure:
    """Exhaust flow over intake flow at one lift and test pressure, both [m3/s]. Raises InputError for nought or less."""
    if exhaust <= 0 or intake <= 0:
        raise InputError("Both flows must be more than nought.", "intake")
    working = Working(
        "Exhaust to intake",
        (Given("Q_e", "exhaust flow", exhaust, "flow"), Given("Q_i", "intake flow", intake, "flow")),
        (Step("ρ", "Q_e/Q_i", exhaust / intake, "percent"),),
        "Definition.",
        ("Opinions differ: some design to it, some call it meaningless. It is shown, and it is never a gate.",),
    )
    return Figure("exhaust_to_intake", "Exhaust to intake", exhaust / intake, "percent", working, significant=2)


def percentage_gain(full_scale: float, a: float, b: float, pressure_a: float, pressure_b: float) -> Figure:
    """Difference of two percentages read on one range, as flow [m3/s]; refused at different pressures.

    full_scale [m3/s], a and b [0..1], pressures [Pa]. Raises InputError (field "pressure_b").
    """
    if abs(pressure_b / pressure_a - 1.0) > OFF_PRESSURE:
        raise InputError(
            "These percentages were read at different pressures and cannot be compared. Set the motor to one test "
            "pressure, or carry both to it first (flow from range and percentage).",
            "pressure_b",
        )
    value = (b - a) * full_scale
    working = Working(
        "Difference of two percentages",
        (
            Given("Q_fs", "full-scale flow of the range", full_scale, "flow"),
            Given("x_A", "percentage of A", a, "percent"),
            Given("x_B", "percentage of B", b, "percent"),
            Given("Δp", "pressure of both", pressure_a, "column"),
        ),
        (Step("ΔQ", "Q_fs·(x_B − x_A)", value, "flow"),),
        "Common practice.",
        ("One port on one fixture: it is not multiplied by the number of cylinders, and it is not power.",),
    )
    return Figure("flow_difference", "B − A", value, "flow", working, signed=True)
