"""A measured dossier becomes a simulation case: what is missing is listed, what is there stands in the case and runs."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from math import degrees, pi, sin
from types import SimpleNamespace

import pytest

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.units import parse
from longbreath.core.wave.cycle import simulate
from longbreath.dossier import timing
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.dossier.path.elements import elements_of
from longbreath.dossier.simulate.case import Bridged, case_of
from longbreath.formats.wave_case import read_case
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories

LIFTS = ((0.001, 40.0), (0.003, 110.0), (0.006, 180.0), (0.009, 215.0))
WHEEL = {"intake_opens": "8 °", "intake_closes": "38 °", "exhaust_opens": "42 °", "exhaust_closes": "6 °"}


def time_the_valves(db: UnitOfWork, shop: SimpleNamespace, lift: float | None = 0.001) -> None:
    angles = {name: parse(text, "angle").value for name, text in WHEEL.items()}
    card = timing.WheelCard("cams", "poppet", date(2026, 5, 2), angles, "", checking_lift=lift)
    timing.add_sheet(db, shop.application, replace(card, window={"peak_lift": 0.0096, "valves": 2.0}))


def sweep(db: UnitOfWork, shop: SimpleNamespace, direction: str, share: float, head: float) -> None:
    """A session with a sweep of both labels at these lifts."""
    gear = {"valves": 2, "valve_diameter": head, "throat_diameter": 0.88 * head, "stem_diameter": 0.0055}
    fixture = bench_verbs.save_fixture(
        db, shop.application, None, replace(factories.FIXTURE, direction=direction, **gear)
    )
    card = replace(factories.SET_UP, bench_id=shop.bench.id, leak_range_id=shop.bench.ranges[0].id)
    session = bench_verbs.open_session(db, shop.application, fixture, card)
    for trace in session.traces:
        for lift, cfm in LIFTS:
            factories.capture(db, trace, share * cfm, lift)


@pytest.fixture
def measured(db: UnitOfWork, shop: SimpleNamespace) -> SimpleNamespace:
    """The Gannet with cams timed and both ports flowed."""
    time_the_valves(db, shop)
    sweep(db, shop, "intake", 1.0, 0.0335)
    sweep(db, shop, "exhaust", 0.7, 0.0285)
    shop.application.vehicle.rod = 0.141
    db.flush()
    return shop


def test_what_is_missing_is_listed_in_words(db: UnitOfWork, shop: SimpleNamespace) -> None:
    shop.application.vehicle.rod = None
    found = case_of(db, shop.application)
    assert found.case is None
    assert set(found.missing) == {
        "Vehicle: the length of its rod.",
        "Timing: a degree-wheel sheet of the poppet valves.",
        "Bench: a sweep over lift of the exhaust port.",
        "Bench: a sweep over lift of the intake port.",
    }


@pytest.mark.parametrize("label", ["A", "B"])
def test_a_measured_dossier_is_a_case_that_keeps_every_length_and_volume(
    db: UnitOfWork, measured: SimpleNamespace, label: str
) -> None:
    found = case_of(db, measured.application, label)
    assert found.missing == ()
    case = read_case(found.case.model_dump_json(by_alias=True))  # as it is written to a file and read again
    engine = case.to_engine()
    rows = [e for e in elements_of(db, measured.application.id, label) if e.side != "engine"]
    laid = [*case.intake.inlet, *case.intake.runners[0], *case.exhaust.primaries[0], *case.exhaust.collector]
    pipes = sum(item.length_mm for item in laid if hasattr(item, "length_mm"))
    volumes = sum(item.volume_l for item in laid if hasattr(item, "volume_l")) + case.intake.plenum_l
    mouth = 70.0  # the air box opens through a pipe one diameter long
    assert pipes == pytest.approx(1e3 * sum(e.length for e in rows if e.volume is None) + mouth)
    assert any("opening of air box" in words for words in found.assumed)
    spacer = 0.0295 * 0.012 * 1e3 if label == "B" else 0.0
    assert volumes == pytest.approx(1e3 * sum(e.volume for e in rows if e.volume is not None) + spacer)
    runner = case.intake.runners[0][0]
    assert runner.length_mm == pytest.approx(371.0 if label == "B" else 302.0)
    assert engine.displacement == pytest.approx(4 * pi / 4 * 0.0846**2 * 0.0888)
    assert case.exhaust.groups == [[1, 3, 4, 2]]


def test_the_seat_is_found_from_the_checking_lift(db: UnitOfWork, measured: SimpleNamespace) -> None:
    """First principles: with a sine squared of the peak lift, the lift at the angle on the wheel is the checking lift."""
    valves = case_of(db, measured.application).case.intake.valves
    opens, closes = valves.opens_before_tdc_deg, valves.closes_after_bdc_deg
    assert opens - 8 == pytest.approx(closes - 38)
    share = (opens - 8) / (180 + opens + closes)
    assert 9.6 * sin(pi * share) ** 2 == pytest.approx(1.0)


def test_the_coefficients_are_those_of_the_bench(db: UnitOfWork, measured: SimpleNamespace) -> None:
    """By hand: 180 cfm at 6 mm on two heads of 33.5 mm, over the isentropic flow of the curtain at 28 inH2O."""
    point = next(p for p in case_of(db, measured.application).case.intake.valves.bench if p.lift_mm == pytest.approx(6))
    curtain_in2 = 2 * pi * 33.5 * 6 / 645.16
    weak = 141.604  # cfm a square inch in dry air at 20 °C and 1013.25 hPa: reference sheet, CoolProp within 0.1 %
    assert point.cd_in == pytest.approx(180 / (curtain_in2 * weak), rel=0.03)
    assert point.cd_out == point.cd_in


def test_the_case_runs_and_breathes_as_the_engine_should(db: UnitOfWork, measured: SimpleNamespace) -> None:
    """Common practice, no source: a four-valve two-litre fills its cylinders to 75 to 110 % in the middle of its band."""
    found: Bridged = case_of(db, measured.application)
    engine = found.case.model_copy(update={"cell_mm": 40.0}).to_engine()
    point = simulate(engine, 4000 * RPM)
    assert 0.75 < point.filling < 1.10
    assert abs(point.balance) < 1e-6


def test_a_path_that_does_not_merge_by_groups_is_said(db: UnitOfWork, measured: SimpleNamespace) -> None:
    for element in elements_of(db, measured.application.id):
        if element.name == "merge":
            element.branches = 3
    db.flush()
    (words,) = case_of(db, measured.application).missing
    assert "merges by equal groups" in words
    assert "4, then 3, then 1" in words


def test_angles_at_the_seat_are_taken_as_they_are(db: UnitOfWork, shop: SimpleNamespace) -> None:
    time_the_valves(db, shop, None)
    sweep(db, shop, "intake", 1.0, 0.0335)
    sweep(db, shop, "exhaust", 0.7, 0.0285)
    shop.application.vehicle.rod = 0.141
    db.flush()
    valves = case_of(db, shop.application).case.exhaust.valves
    assert (valves.opens_before_bdc_deg, valves.closes_after_tdc_deg) == pytest.approx((42, 6))
    assert degrees(parse("42 °", "angle").value) == pytest.approx(42)
