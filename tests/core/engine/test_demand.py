"""What an engine asks of its air: directions, and what is refused."""

from __future__ import annotations

from math import radians

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.compare import planning
from longbreath.core.compare.scatter import Scatter
from longbreath.core.engine import demand, tuning
from longbreath.core.path import sections

MOTOR = demand.EngineGeometry(0.0846, 0.0888, 4)


@pytest.mark.parametrize(
    ("bore", "stroke", "cylinders", "strokes", "message"),
    [
        (0.0, 0.09, 4, 4, "Bore and stroke"),
        (0.08, 0.09, 0, 4, "at least one cylinder"),
        (0.08, 0.09, 4, 3, "are 4 or 2"),
    ],
)
def test_engines_that_cannot_be_are_refused(
    bore: float, stroke: float, cylinders: int, strokes: int, message: str
) -> None:
    with pytest.raises(InputError, match=message):
        demand.EngineGeometry(bore, stroke, cylinders, strokes)


def test_a_two_stroke_breathes_twice_as_often() -> None:
    four, two = (demand.EngineGeometry(0.08, 0.08, 2, strokes) for strokes in (4, 2))
    assert demand.air_demand(two, 500.0, 1.0).value == pytest.approx(2 * demand.air_demand(four, 500.0, 1.0).value)


def test_a_rotor_draws_its_chamber_once_a_turn_over_three_quarters_of_it() -> None:
    """Two chambers of 654 cm³ at 6,000 rpm and full filling: 1308 cm³ a turn, 130.8 L/s; each drawn over 270° (first principles)."""
    rotor = demand.EngineGeometry(0.0, 0.0, 2, 2, 654e-6)
    assert demand.air_demand(rotor, 6000 * RPM, 1.0).value == pytest.approx(0.1308)
    assert demand.gas_velocity(rotor, 6000 * RPM, 1e-3).value == pytest.approx(654e-6 * 100 / 0.75 / 1e-3)
    assert "chamber of one rotor" in [given.meaning for given in demand.air_demand(rotor, 600.0, 1.0).working.givens]
    with pytest.raises(InputError, match="no piston"):
        rotor.mean_piston_speed(600.0)
    with pytest.raises(InputError, match="chamber must be more"):
        demand.EngineGeometry(0.0, 0.0, 2, 2, 0.0)


@given(st.floats(1000, 9000), st.floats(1.01, 2.0))
def test_air_demand_and_velocity_grow_in_proportion_to_speed(rpm: float, factor: float) -> None:
    slow, fast = rpm * RPM, rpm * factor * RPM
    assert demand.air_demand(MOTOR, fast, 0.9).value == pytest.approx(
        factor * demand.air_demand(MOTOR, slow, 0.9).value
    )
    assert demand.gas_velocity(MOTOR, fast, 1e-3).value == pytest.approx(
        factor * demand.gas_velocity(MOTOR, slow, 1e-3).value
    )


def test_mach_index_falls_in_hotter_gas_and_in_a_larger_section() -> None:
    at = demand.mach_index(MOTOR, 700.0, 1.45e-3, 313.0).value
    assert demand.mach_index(MOTOR, 700.0, 1.45e-3, 330.0).value < at
    assert demand.mach_index(MOTOR, 700.0, 1.60e-3, 313.0).value < at
    with pytest.raises(InputError, match="between 0 and 1"):
        demand.mach_index(MOTOR, 700.0, 1.45e-3, 313.0, 0.0)


@pytest.mark.parametrize(
    ("call", "message"),
    [
        (lambda: demand.air_demand(MOTOR, 0.0, 0.9), "speed must be more than nought"),
        (lambda: demand.air_demand(MOTOR, 100.0, 4.0), "between 0 and 300 %"),
        (lambda: demand.gas_velocity(MOTOR, 100.0, 0.0), "more than nought"),
        (lambda: demand.section_for_power(0.0, 1.0, 4, 80.0, 1e-7, 12.8, 1.2), "more than nought"),
        (lambda: demand.power_from_torque(1.0, -1.0), "cannot be negative"),
        (lambda: sections.round_section(0.0), "diameter must be more than nought"),
        (lambda: sections.rounded_rectangle(0.05, 0.0, 0.0), "more than nought"),
        (lambda: sections.rounded_rectangle(0.05, 0.03, 0.016), "half the shorter side"),
        (lambda: sections.tube_inside(0.05, 0.025), "less than half"),
        (lambda: sections.flattened_tube(0.05, 0.002, 0.004), "more than two walls"),
        (lambda: sections.flattened_tube(0.05, 0.002, 0.051), "no more than the outside diameter"),
        (lambda: tuning.reflected_wave_length(0.0, radians(248), 313, 4, 0.04), "more than nought"),
        (lambda: tuning.reflected_wave_length(400, radians(248), 313, 9, 0.04), "from 1 to 6"),
        (lambda: tuning.reflected_wave_length(400, radians(90), 313, 4, 0.04), "between 150 and 360"),
        (lambda: tuning.helmholtz_length(400, 1e-3, 5e-4, 1.0, 313), "more than 1"),
        (lambda: tuning.helmholtz_length(400, 0.0, 5e-4, 10.0, 313), "more than nought"),
        (lambda: planning.provable(Scatter(1.0), "ABA", 180.0, ""), "At least two pulls"),
        (lambda: planning.provable(Scatter(0.0), "AABBAA", 180.0, ""), "repeatability must be"),
    ],
)
def test_each_formula_refuses_what_cannot_be(call: object, message: str) -> None:
    with pytest.raises(InputError, match=message):
        call()  # type: ignore[operator]
