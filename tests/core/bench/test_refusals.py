"""What the bench refuses, in words."""

from __future__ import annotations

import pytest

from longbreath.core.air.moist import Weather
from longbreath.core.basis.errors import InputError
from longbreath.core.bench import discharge, meter, potential, stacks, traverse

ROOM = Weather(293.15, 101325.0, 0.0)


AIR = meter.MeterAir(ROOM, 293.15, 101325.0)


@pytest.mark.parametrize(
    ("make", "message"),
    [
        (lambda: meter.Orifice(0.0, 0.1), "more than nought"),
        (lambda: meter.Orifice(0.09, 0.1), "0.10 to 0.75"),
        (lambda: meter.Orifice(0.05, 0.1, "pinched"), "taps are one of"),
        (lambda: meter.orifice_flow(meter.Orifice(0.05, 0.1), -1.0, AIR), "Swap the hoses"),
        (lambda: meter.orifice_flow(meter.Orifice(0.05, 0.1), 30e3, AIR), "larger plate"),
        (lambda: AIR.factor("guess"), "temperature rule"),
        (lambda: meter.MeterReading(7000.0, drop=500.0), "needs the plate"),
        (lambda: discharge.ValveGear(0, 0.03, 0.02), "at least one valve"),
        (lambda: discharge.ValveGear(1, 0.03, 0.04), "follow one another"),
        (lambda: discharge.ideal_flow(0.0, 7000.0, ROOM), "area must be"),
        (lambda: discharge.flow_function(1.2), "between nought"),
        (
            lambda: discharge.valve_coefficients(0.1, 0.0, discharge.ValveGear(1, 0.03, 0.02), 7000.0, ROOM),
            "more than nought",
        ),
        (lambda: stacks.series([]), "more than nought"),
        (lambda: stacks.alone(250.0, 250.0), "inside the noise"),
        (lambda: stacks.needed_figure(260.0, stacks.StackState("head", 250.0)), "flows no more"),
        (lambda: stacks.analyse([stacks.StackState("head", 250.0)]), "two states"),
        (lambda: stacks.pressure_at_flow(0.0, 1.0, 1.0), "more than nought"),
        (lambda: potential.power_potential(-1.0, 7000.0, 4), "more than nought"),
        (lambda: potential.power_potential(0.1, 7000.0, 0), "1 to 24"),
        (lambda: potential.exhaust_to_intake(0.0, 1.0), "more than nought"),
        (lambda: potential.percentage_gain(0.1, 0.5, 0.6, 7000.0, 6000.0), "different pressures"),
        (lambda: traverse.round_face(0.0), "diameter"),
        (lambda: traverse.rectangle_face(0.04, 0.03, 0.02), "half the shorter side"),
        (lambda: traverse.traced_face([(0, 0), (1, 1)]), "three points"),
        (lambda: traverse.traced_face([(0, 0), (1, 1), (1, 0), (0, 1)]), "crosses itself"),
        (lambda: traverse.grid(traverse.round_face(0.04), 40, 2), "1 to 15"),
        (lambda: traverse.pitot_velocity(-3.0, 1e5, 290.0), "wrong way"),
        (lambda: traverse.cells(traverse.round_face(0.04), [traverse.TubeSpot(0, 0, 1)] * 2), "three readings"),
        (
            lambda: traverse.cells(traverse.round_face(0.04), [traverse.TubeSpot(x, 0, 1) for x in (0, 0.01, 0.3)]),
            "outside the face",
        ),
        (
            lambda: traverse.make_map(
                traverse.round_face(0.04), [traverse.TubeSpot(x, 0, 0) for x in (-0.01, 0, 0.01)]
            ),
            "any velocity",
        ),
    ],
)
def test_what_cannot_be_is_refused_in_words(make, message: str) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(InputError, match=message):
        make()
