"""Bench rows turned into core inputs: noise of the session or of the card, plate checks, airs, fixtures, coefficients."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from math import inf
from types import SimpleNamespace
from typing import Any

import pytest
from sqlalchemy import text
from sqlalchemy.exc import IntegrityError, InternalError, ProgrammingError

from longbreath.core.basis.errors import InputError
from longbreath.core.bench import traverse
from longbreath.dossier import library
from longbreath.dossier.bench import maps, porting, traces
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.dossier.bench.board import board
from longbreath.store.models import Calibration, Reading
from longbreath.store.unit_of_work import UnitOfWork
from tests.factories import BOUT, CFM, INCH, JOB, MAP, capture


def read(
    db: UnitOfWork, shop: SimpleNamespace, label: str, cfm: float | None, lift: float = 0.008, **more: Any
) -> Reading:
    db.act_as(shop.people["tester"], shop.application.id)
    return capture(db, shop.traces[label], cfm, lift, **more)


def check(db: UnitOfWork, shop: SimpleNamespace, day: date, cfm: float) -> Calibration:
    return library.add_check(db, shop.bench, library.PlateCheck(day, "plate 2", 180 * CFM, 0.004, cfm * CFM))


def test_the_card_says_how_the_bench_repeats_until_the_session_itself_does(
    db: UnitOfWork, shop: SimpleNamespace
) -> None:
    shop.bench.repeatability, shop.bench.repeatability_source = 0.002, "12 repeats"
    read(db, shop, "A", 200)
    assert traces.noise_of(shop.session).freedom == inf
    assert "12 repeats" in traces.noise_of(shop.session).origin
    for cfm in (201, 199, 200.5):
        read(db, shop, "A", cfm)
    assert traces.noise_of(shop.session).repeatability == 0.002  # three degrees of freedom are not enough
    read(db, shop, "B", 210)
    read(db, shop, "B", 211)
    own = traces.noise_of(shop.session)
    assert own.freedom == 4
    assert own.repeatability == pytest.approx(0.004, abs=0.001)
    assert "own repeats" in own.origin


def test_a_fixed_part_stays_up_after_it_was_read_and_its_repeats_are_averaged(
    db: UnitOfWork, shop: SimpleNamespace
) -> None:
    """A part has one place: the keys of the desk go on capturing it, however often it was read."""
    shop.traces["A"].kind = "fixed"
    shop.traces["A"].ladder = []
    for times, cfm in enumerate((200.0, 201.0, 199.5)):
        found = board(db, shop.traces["A"], [], "us")
        assert (found.now, [rung.is_now for rung in found.rungs]) == (0.0, [True])
        assert len(shop.traces["A"].readings) == times
        read(db, shop, "A", cfm, 0.0)
        db.refresh(shop.traces["A"], ["readings"])


def test_the_newest_plate_check_before_the_day_counts(db: UnitOfWork, shop: SimpleNamespace) -> None:
    day = shop.session.held_on
    assert traces.plate_of(shop.bench, day) == traces.PlateState(None, None, False)
    assert traces.noise_of(shop.session).calibration is None
    check(db, shop, date(2026, 3, 1), 181.8)
    check(db, shop, date(2026, 5, 1), 179.1)
    check(db, shop, date(2026, 9, 1), 190.0)
    db.refresh(shop.bench, ["calibrations"])
    state = traces.plate_of(shop.bench, day)
    assert state.newest is not None
    assert (state.newest.held_on, state.overdue) == (date(2026, 5, 1), False)
    assert state.uncertainty == pytest.approx((0.004**2 + 0.005**2) ** 0.5)
    assert traces.plate_of(shop.bench, date(2026, 7, 1)).overdue
    drifts = [row.drift for row in traces.plate_history(shop.bench)]
    assert drifts == [pytest.approx(0.06056, abs=1e-4), pytest.approx(-0.015), None]


def test_the_air_at_the_meter_comes_from_the_line_else_from_the_session(db: UnitOfWork, shop: SimpleNamespace) -> None:
    shop.bench.temperature_rule = "temperature"
    shop.session.meter_temperature = 303.15
    plain = traces.stored_reading(read(db, shop, "A", 200), shop.traces["A"])
    assert plain.factor == pytest.approx((293.15 / 303.15) ** 0.5)
    sent = traces.stored_reading(
        read(db, shop, "A", 200, inlet_temperature=290.0, meter_temperature=290.0), shop.traces["A"]
    )
    assert sent.factor == 1.0
    assert sent.air is not None
    assert sent.air.pressure == pytest.approx(shop.session.pressure - 28 * INCH)  # after the part, on the intake
    shop.fixture.direction = "exhaust"
    assert traces.stored_reading(read(db, shop, "A", 200), shop.traces["A"]).air.pressure == shop.session.pressure  # type: ignore[union-attr]


def test_coefficients_need_the_valve_gear(db: UnitOfWork, shop: SimpleNamespace) -> None:
    read(db, shop, "A", 200)
    rows = traces.reduce_trace(shop.traces["A"])
    found = traces.coefficients(shop.traces["A"], rows)
    assert 0.4 < found[0.008]["curtain"].value < 1.0
    shop.fixture.throat_diameter = None
    assert traces.coefficients(shop.traces["A"], rows) == {}


def test_a_fixed_part_is_read_at_no_lift_and_a_sweep_at_one(db: UnitOfWork, shop: SimpleNamespace) -> None:
    with pytest.raises(InputError, match="lifts of more than nought"):
        read(db, shop, "A", 200, lift=0.0)
    db.rollback()


def test_one_press_is_one_reading_and_one_way_of_reading(db: UnitOfWork, shop: SimpleNamespace) -> None:
    first = read(db, shop, "A", 200, capture_key="abc")
    assert read(db, shop, "A", 300, capture_key="abc") is first
    with pytest.raises(InputError, match="not both"):
        read(db, shop, "A", 200, percent=0.5)
    with pytest.raises(InputError, match="another bench"):
        read(db, shop, "A", None, percent=0.5, range_id=99999)
    db.rollback()


def test_a_sweep_with_readings_stays_a_sweep(db: UnitOfWork, shop: SimpleNamespace) -> None:
    trace = shop.traces["A"]
    card = bench_verbs.TraceCard("stock", "A", stack="head", ladder=(0.002,))
    assert bench_verbs.change_trace(db, trace, shop.fixture, card).pieces == ("head",)
    read(db, shop, "A", 200)
    db.refresh(trace, ["readings"])
    with pytest.raises(InputError, match="cannot become a fixed part"):
        bench_verbs.change_trace(db, trace, shop.fixture, replace(card, kind="fixed"))


def test_a_difference_on_one_bench_leaves_its_scale_out(db: UnitOfWork, shop: SimpleNamespace) -> None:
    read(db, shop, "A", 200)
    read(db, shop, "B", 205)
    check(db, shop, date(2026, 5, 1), 181.8)
    db.refresh(shop.bench, ["calibrations"])
    (row,) = traces.lift_rows(shop.traces["A"], shop.traces["B"])
    assert row.difference is not None
    assert (row.difference.uncertainty or 0) < 0.4 * CFM  # the scale is common to both
    assert (row.a.flow.figure.uncertainty or 0) > 2.0 * CFM if row.a else False
    assert traces.differs(shop.traces["A"], shop.traces["B"]) == ()


@pytest.mark.parametrize("table", ["calibration", "traverse_point", "porting_bout", "bench_sheet"])
def test_new_evidence_is_append_only_in_the_database(db: UnitOfWork, shop: SimpleNamespace, table: str) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    check(db, shop, date(2026, 5, 1), 181.8)
    outline = traverse.face_of("round", {"diameter": 0.04})
    face = maps.add_map(db, shop.application, outline, MAP)
    x, y = traverse.grid(outline, 3, 3)[0]
    maps.add_point(db, face, x, y, 100.0)
    porting.add_bout(db, porting.save_job(db, shop.application, None, JOB), BOUT)
    bench_verbs.receive_sheet(db, shop.session, "a.csv", b"x")
    for statement in (f"update {table} set id = id", f"delete from {table}"):
        with pytest.raises((InternalError, ProgrammingError), match="permission denied"), db.begin_nested():
            db.execute(text(statement))


def test_the_database_refuses_a_reading_read_in_two_ways(db: UnitOfWork, shop: SimpleNamespace) -> None:
    values = "(trace_id, lift, percent, direct_flow, range_id, pressure, spread, samples, flags, source, taken_at, taken_by_id)"
    trace, used, who = shop.traces["A"].id, shop.bench.ranges[0].id, shop.people["tester"].id
    row = f"({trace}, 0.002, 0.5, 0.1, {used}, 7000, 0, 1, '[]', 'hand', now(), {who})"
    with pytest.raises(IntegrityError, match="one_way"), db.begin_nested():
        db.execute(text(f"insert into reading {values} values {row}"))
