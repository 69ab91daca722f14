"""Flow bench reduction: range and percentage, leak, referral to the test pressure, resolution, velocity."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from longbreath.core.errors import InputError
from longbreath.core.working import Figure, Given, Step, Working

OFF_PRESSURE = 0.01
"""A reading this far (as a share) from the test pressure is marked as referred. Common practice."""

SOURCE = "Common practice (range × percentage); referral by Bernoulli, Q ∝ √Δp, first principles."


@dataclass(frozen=True)
class MeterReading:
    """One point as it was read.

    Either `full_scale` [m3/s] with `percent` [0..1], or `direct` [m3/s]; `pressure` [Pa] is the test pressure at
    the moment of reading. `flow_resolution` [m3/s] and `pressure_resolution` [Pa] are the smallest steps that the
    instruments show.
    """

    pressure: float
    full_scale: float | None = None
    percent: float | None = None
    direct: float | None = None
    flow_resolution: float = 0.0
    pressure_resolution: float = 0.0
    row: str = ""

    def __post_init__(self) -> None:
        if self.pressure <= 0:
            raise InputError("The pressure at which it was read must be more than nought.", "pressure")
        if (self.direct is None) == (self.percent is None or self.full_scale is None):
            raise InputError("Give either range and percentage, or a direct flow, not both.", "percent")
        if self.percent is not None and not 0 <= self.percent <= 1:
            raise InputError("A percentage of a range lies between 0 and 100 %. Use the next range.", "percent")
        if self.direct is not None and self.direct < 0:
            raise InputError("A flow cannot be negative. Swap the hoses or the direction.", "direct")

    @property
    def gross(self) -> float:
        """Flow as read [m3/s]."""
        if self.direct is not None:
            return self.direct
        return (self.full_scale or 0.0) * (self.percent or 0.0)


def leak_at(leak: MeterReading | None, pressure: float) -> float:
    """Leak flow [m3/s] carried to another pressure [Pa] by the square root (a turbulent leak; common practice)."""
    if leak is None:
        return 0.0
    return leak.gross * sqrt(pressure / leak.pressure)


def refer(flow: float, pressure: float, test_pressure: float) -> float:
    """Flow [m3/s] read at `pressure` [Pa], referred to `test_pressure` [Pa]: Q sqrt(p_test / p).

    Raises InputError unless both pressures are more than nought. Source: Bernoulli, first principles.
    """
    if pressure <= 0 or test_pressure <= 0:
        raise InputError("Test pressures must be more than nought.", "pressure")
    return flow * sqrt(test_pressure / pressure)


def is_off_pressure(pressure: float, test_pressure: float) -> bool:
    """Whether a reading was taken away from the test pressure [Pa]."""
    return abs(pressure / test_pressure - 1.0) > OFF_PRESSURE


def reduce_reading(reading: MeterReading, test_pressure: float, leak: MeterReading | None = None) -> Figure:
    """Flow at the test pressure with the leak taken off [m3/s], with the uncertainty its resolution allows.

    Each resolution counts as a rectangular distribution (standard uncertainty = step / √12); the figure's
    uncertainty is the expanded one, k = 2. Raises InputError if the leak exceeds the reading.
    Source: see SOURCE; uncertainty by GUM, first order.
    """
    leak_here = leak_at(leak, reading.pressure)
    net = reading.gross - leak_here
    if net < 0:
        raise InputError("The leak is larger than the reading: find the leak before going on.", "percent")
    flow = refer(net, reading.pressure, test_pressure)
    flow_part = reading.flow_resolution / sqrt(12.0) * sqrt(test_pressure / reading.pressure)
    pressure_part = flow * 0.5 * reading.pressure_resolution / sqrt(12.0) / reading.pressure
    leak_part = leak.flow_resolution / sqrt(12.0) if leak else 0.0
    expanded = 2.0 * sqrt(flow_part**2 + pressure_part**2 + leak_part**2)
    off = is_off_pressure(reading.pressure, test_pressure)
    notes = ["Leak carried to the pressure of the reading by the square root (turbulent leak)."] if leak else []
    if off:
        notes.append(
            "Read away from the test pressure: referred, not read. Reset the motor and take it again if you can."
        )
    givens = [
        *_meter_givens(reading),
        Given("Δp", "pressure when read", reading.pressure, "column", reading.row),
    ]
    if leak:
        givens += [
            Given("Q_l", "leak as read", leak.gross, "flow", leak.row),
            Given("Δp_l", "pressure of the leak test", leak.pressure, "column", leak.row),
        ]
    givens.append(Given("Δp_t", "test pressure", test_pressure, "column"))
    steps = [Step("Q_g", "as read" if reading.direct is not None else "Q_fs·x", reading.gross, "flow")]
    if leak:
        steps.append(Step("Q_l′", "Q_l·√(Δp/Δp_l)", leak_here, "flow"))
        steps.append(Step("Q_n", "Q_g − Q_l′", net, "flow"))
    steps.append(Step("Q", "Q_n·√(Δp_t/Δp)" if leak else "Q_g·√(Δp_t/Δp)", flow, "flow"))
    steps.append(Step("U", "2·√(Σ(step/√12)²), referred", expanded, "flow"))
    working = Working("Flow at the test pressure", tuple(givens), tuple(steps), SOURCE, tuple(notes),
                      (reading.row,) if reading.row else ())  # fmt: skip
    return Figure("flow", "Flow at the test pressure", flow, "flow", working, expanded or None)


def _meter_givens(reading: MeterReading) -> tuple[Given, ...]:
    if reading.direct is not None:
        return (Given("Q_g", "flow as read", reading.direct, "flow", reading.row),)
    return (
        Given("Q_fs", "full-scale flow of the range", reading.full_scale or 0.0, "flow", reading.row),
        Given("x", "percentage of the range", reading.percent or 0.0, "percent", reading.row),
    )


def difference(a: Figure, b: Figure) -> Figure:
    """B − A of two flows at one lift [m3/s]; the uncertainties are added in quadrature (independent readings)."""
    value = b.value - a.value
    spread = sqrt((a.uncertainty or 0.0) ** 2 + (b.uncertainty or 0.0) ** 2)
    share = value / a.value if a.value else 0.0
    working = Working(
        "Difference in flow",
        (Given("Q_A", "A at this lift", a.value, "flow"), Given("Q_B", "B at this lift", b.value, "flow")),
        (
            Step("ΔQ", "Q_B − Q_A", value, "flow"),
            Step("ΔQ/Q_A", "share of A", share, "percent"),
            Step("U", "√(U_A² + U_B²)", spread, "flow"),
        ),
        "Difference of two independent readings; uncertainties in quadrature (GUM).",
        ("One port on this fixture. It is not multiplied by the number of cylinders, and it is not power.",),
        a.working.rows + b.working.rows,
    )
    return Figure("flow_difference", "B − A", value, "flow", working, spread or None, signed=True)


def mean_velocity(
    flow: float, area: float, flow_spread: float | None = None, rows: tuple[str, ...] = ()
) -> Figure:
    """Mean velocity [m/s] of `flow` [m3/s] through `area` [m2]: v = Q / A.

    Raises InputError for an area of nought or less. Source: continuity (ft/s = 2.4 × cfm ÷ in²).
    """
    if area <= 0:
        raise InputError("A section's area must be more than nought.", "area")
    if flow < 0:
        raise InputError("A flow cannot be negative.", "flow")
    working = Working(
        "Mean velocity in a section",
        (Given("Q", "volume flow", flow, "flow"), Given("A", "area of the section", area, "area")),
        (Step("v", "Q/A", flow / area, "velocity"),),
        "Continuity, first principles.",
        (
            "Mean over the section at the density of the bench air. Same section and more flow is more velocity, nothing else.",
        ),
        rows,
    )
    spread = flow_spread / area if flow_spread else None
    return Figure("mean_velocity", "Mean velocity", flow / area, "velocity", working, spread)
