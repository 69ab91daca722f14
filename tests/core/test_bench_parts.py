"""Meters, fixtures, stacks, maps and porting: limits, directions, refusals."""

from __future__ import annotations

from dataclasses import replace
from math import log

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.air.moist import Weather
from longbreath.core.basis.errors import InputError
from longbreath.core.bench import discharge, fixture, meter, porting, potential, stacks, traverse

ROOM = Weather(293.15, 101325.0, 0.0)
AIR = meter.MeterAir(ROOM, 293.15, 101325.0)
HEAD = fixture.BenchFixture(0.0846, "radius plate", "", "cylinder 2", "intake", 6974.5, 2, 0.033)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({}, ""),
        ({"bore": 0.08465}, ""),
        ({"bore": 0.086}, "bore adapter: 84.6 mm against 86 mm"),
        ({"bore": None}, "against not stated"),
        ({"mouth": "clay"}, "mouth: radius plate against clay"),
        ({"outlet": "pipe stub"}, "outlet: not stated against pipe stub"),
        ({"port": "cylinder 3"}, "port or runner"),
        ({"direction": "exhaust"}, "direction"),
        ({"valves": 1}, "number of valves: 2 against 1"),
        ({"valve_diameter": 0.034}, "valve size"),
        ({"test_pressure": 2490.9}, "test pressure: 28 inH₂O"),
    ],
)
def test_fixtures_that_differ_say_in_what(change: dict[str, object], words: str) -> None:
    found = "; ".join(fixture.differences(HEAD, replace(HEAD, **change))).replace("\u00a0", " ")  # type: ignore[arg-type]
    assert words in found
    assert bool(found) is bool(words)


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
        (lambda: traverse.cells(traverse.round_face(0.04), [traverse.Spot(0, 0, 1)] * 2), "three readings"),
        (
            lambda: traverse.cells(traverse.round_face(0.04), [traverse.Spot(x, 0, 1) for x in (0, 0.01, 0.3)]),
            "outside the face",
        ),
        (
            lambda: traverse.make_map(traverse.round_face(0.04), [traverse.Spot(x, 0, 0) for x in (-0.01, 0, 0.01)]),
            "any velocity",
        ),
    ],
)
def test_what_cannot_be_is_refused_in_words(make, message: str) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(InputError, match=message):
        make()


def test_an_orifice_warns_where_the_standard_does_not_hold() -> None:
    small = meter.Orifice(0.010, 0.040)
    notes = meter.MeterReading(7000.0, drop=5.0, orifice=small, air=AIR).notes()
    assert len(notes) == 2
    assert meter.orifice_notes(meter.Orifice(0.05, 0.1), 0.1, AIR) == ()
    assert meter.orifice_flow(small, 0.0, AIR) == 0.0


@given(st.floats(0.01, 0.5), st.floats(0.05, 0.95))
def test_taking_a_piece_off_and_putting_it_on_again_is_the_identity(rest: float, share: float) -> None:
    stack = rest * share
    assert stacks.series([rest, stacks.alone(stack, rest)]) == pytest.approx(stack, rel=1e-6)


@given(st.floats(500.0, 9000.0))
def test_flow_through_an_orifice_grows_with_the_drop(drop: float) -> None:
    plate = meter.Orifice(0.05, 0.1)
    assert meter.orifice_flow(plate, drop * 1.1, AIR) > meter.orifice_flow(plate, drop, AIR)


def test_the_piece_with_the_largest_share_of_the_drop_limits() -> None:
    states = (("head", 300.0), ("head + manifold", 200.0), ("head + manifold + throttle", 199.0))
    found = stacks.analyse([stacks.StackState(name, flow) for name, flow in states])
    assert found.limit == "manifold"
    assert [step.piece for step in found.steps] == ["manifold", "throttle"]
    shares = [found.first_share.value, *(step.share.value for step in found.steps if step.share)]
    assert sum(shares) == pytest.approx(1.0)
    level = stacks.analyse([stacks.StackState("head", 300.0), stacks.StackState("head + manifold", 301.0)])
    assert level.steps[0].alone is None
    assert level.limit == "head"


def job(**change: float) -> porting.Job:
    return porting.Job(**{"start": 200.0, "target": 220.0, "allowed": 20 * 3600.0, "wall_limit": 0.0025, **change})


def bouts(*flows: float, hours: float = 2.0, wall: float = 0.004, noise: float = 0.5) -> list[porting.Bout]:
    return [porting.Bout(hours * 3600.0, flow, noise, wall) for flow in flows]


@pytest.mark.parametrize(
    ("given", "limits", "judgement", "reason"),
    [
        (bouts(206.0, 212.0), {}, porting.GO, "within the hours"),
        (bouts(206.0, 212.0), {"allowed": 5 * 3600.0}, porting.STOP, "more hours than are allowed"),
        (bouts(210.0, 221.0), {}, porting.DONE, "reached"),
        (bouts(206.0, 206.4), {}, porting.STOP, "beyond what the bench can tell"),
        (bouts(206.0, 212.0, wall=0.0025), {}, porting.STOP, "wall is at its limit"),
        (bouts(208.0, 212.0, 214.0, 215.0), {}, porting.STOP, "never reached"),
    ],
)
def test_go_or_stop(given: list[porting.Bout], limits: dict[str, float], judgement: str, reason: str) -> None:
    found = porting.outlook(job(**limits), given)
    assert found.judgement == judgement
    assert reason in found.reason


def test_a_rate_that_halves_each_bout_is_carried_on() -> None:
    """8, 4, 2 in bouts of two hours: 14 of at most 16 are won; one more needs an hour and some (first principles)."""
    found = porting.outlook(job(target=215.0), bouts(208.0, 212.0, 214.0))
    assert found.expected is not None
    decay = 0.6931 / 2
    assert found.expected.value / 3600 == pytest.approx(-log(1 - 1.0 * decay / 1.0) / decay, rel=1e-3)
    steady = porting.outlook(job(), bouts(205.0, 210.0)).expected
    assert steady is not None
    assert steady.value == pytest.approx(4 * 3600)


def test_porting_without_bouts_or_time_or_aim_is_refused() -> None:
    with pytest.raises(InputError, match="Nothing is ported"):
        porting.outlook(job(), [])
    with pytest.raises(InputError, match="takes some time"):
        porting.outlook(job(), bouts(205.0, hours=0.0))
    with pytest.raises(InputError, match="more than the flow to begin with"):
        job(target=200.0)
    with pytest.raises(InputError, match="hours may be spent"):
        job(allowed=0.0)


def test_an_even_face_needs_three_quarters_of_its_area() -> None:
    face = traverse.rectangle_face(0.04, 0.03, 0.0)
    even = traverse.make_map(face, [traverse.Spot(x, y, 50.0) for x, y in traverse.grid(face, 4, 3)])
    assert even.working_area.value == pytest.approx(0.75)
    assert even.peak_over_mean.value == pytest.approx(1.0)
    half = traverse.make_map(face, [traverse.Spot(x, y, 50.0 if x > 0 else 0.0) for x, y in traverse.grid(face, 4, 3)])
    assert half.working_area.value == pytest.approx(0.375)
    assert traverse.steps_of([30.0, 71.0]) == (0.0, 20.0, 40.0, 60.0, 80.0)
