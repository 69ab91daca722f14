"""Rows of the path become core inputs; readings count, nominal sizes widen and stay on the list; evidence only grows."""

from __future__ import annotations

from dataclasses import replace
from math import pi
from types import SimpleNamespace

import pytest
from sqlalchemy import text
from sqlalchemy.exc import InternalError, ProgrammingError

from longbreath.core.basis.errors import InputError
from longbreath.core.bench.traverse import face_of
from longbreath.core.path.faces import FacePlace
from longbreath.dossier import attachments, timing
from longbreath.dossier import build as builds
from longbreath.dossier.path import duty, faces, fit
from longbreath.dossier.path import verbs as path_verbs
from longbreath.dossier.path.elements import (
    area_figure,
    core_element,
    elements_of,
    is_nominal,
    owed,
    plenum_figure,
    precision_of,
    readings_figures,
    section_of,
)
from longbreath.dossier.timing import sheets_of, standing
from longbreath.store.models import Element
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.factories import ROUND_FACE, SPOT, build_card, disc_card, element, size_readings
from tests.made.pictures import port_photo


def named(db: UnitOfWork, shop: SimpleNamespace, name: str) -> Element:
    db.act_as(shop.people["tester"], shop.application.id)
    return next(e for e in elements_of(db, shop.application.id) if e.name == name)


def test_outside_and_wall_give_the_inside(db: UnitOfWork, shop: SimpleNamespace) -> None:
    tube = named(db, shop, "inlet tube")
    assert section_of(tube).area == pytest.approx(pi / 4 * 0.0664**2)
    assert [g.symbol for g in area_figure(tube).working.givens] == ["OD", "t"]
    latch = core_element(named(db, shop, "tube under the latch"))
    assert latch.round_area == pytest.approx(pi / 4 * 0.0664**2)
    assert latch.entry.area < latch.round_area


def test_readings_make_the_size_and_the_newest_batch_counts(db: UnitOfWork, shop: SimpleNamespace) -> None:
    throttle = named(db, shop, "throttle body")
    gauge = {"tool": "bore gauge", "precision": 0.00002}
    path_verbs.add_readings(db, throttle, size_readings("diameter", 0.0621, 0.0620, 0.0622, **gauge))
    assert throttle.diameter == pytest.approx(0.0621)
    found = readings_figures(throttle, "diameter")
    assert found.ovality is not None
    assert found.ovality.value == pytest.approx(0.0002)
    assert len(found.mean.working.rows) == 3
    assert (precision_of(throttle) or 0) == pytest.approx(found.mean.uncertainty)
    path_verbs.add_readings(db, throttle, size_readings("diameter", 0.0630, **gauge))
    assert throttle.diameter == pytest.approx(0.0630)
    assert len(throttle.readings) == 4
    assert "mean of 1 readings" in area_figure(throttle).working.givens[0].origin


def test_readings_that_the_section_cannot_have_change_nothing(db: UnitOfWork, shop: SimpleNamespace) -> None:
    latch = named(db, shop, "tube under the latch")
    before = latch.minor_outside
    with pytest.raises(InputError, match="With a mean of 80") as problem:
        path_verbs.add_readings(db, latch, size_readings("minor_outside", 0.080))
    assert problem.value.field == "readings"
    assert latch.minor_outside == before
    with pytest.raises(InputError, match="no such size"):
        path_verbs.add_readings(db, latch, size_readings("height", 0.05))


def test_nominal_sizes_widen_and_stay_on_the_list_until_read(db: UnitOfWork, shop: SimpleNamespace) -> None:
    tip = named(db, shop, "tip")
    assert is_nominal(tip)
    assert (area_figure(tip).uncertainty or 0) / area_figure(tip).value == pytest.approx(0.06, rel=0.01)
    words = {o.element.name: o.words for o in owed(elements_of(db, shop.application.id), shop.application.vehicle)}
    assert words["tip"] == "measure all sizes: nominal so far"
    path_verbs.add_readings(db, tip, size_readings("diameter", 0.0601, 0.0602, 0.0603))
    assert tip.provenance == "measured"
    assert tip.nominal_sizes == ["length"]
    words = {o.element.name: o.words for o in owed(elements_of(db, shop.application.id), shop.application.vehicle)}
    assert words["tip"] == "measure length: nominal so far"


def test_a_trial_kept_is_nominal_and_stock_is_as_it_is(db: UnitOfWork, shop: SimpleNamespace) -> None:
    runner, stock = named(db, shop, "Gannet runner"), named(db, shop, "stock runner")
    path_verbs.keep_trial(db, runner, 0.044)
    assert (runner.shape, runner.diameter, runner.nominal_sizes) == ("round", 0.044, ["diameter"])
    with pytest.raises(InputError, match="as it is"):
        path_verbs.keep_trial(db, stock, 0.044)


def test_places_move_on_and_what_is_taken_out_stays_kept(db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    adapter = element(6, "step", "adapter", "intake", 0.01, diameter=0.06)
    new = path_verbs.save_element(db, shop.application, None, adapter)
    order = [e.name for e in elements_of(db, shop.application.id, "B")]
    assert order.index("adapter") + 1 == order.index("Gannet plenum")
    path_verbs.take_out(db, new, "belongs to another car")
    assert "adapter" not in [e.name for e in elements_of(db, shop.application.id)]
    assert db.get(Element, new.id) is not None


def test_a_plenum_loses_what_sticks_in_and_gains_its_spacer(db: UnitOfWork, shop: SimpleNamespace) -> None:
    figure = plenum_figure(named(db, shop, "Gannet plenum"), 4)
    assert figure is not None
    assert figure.value * 1e3 == pytest.approx(3.5 - 4 * pi / 4 * 0.5**2 * 0.14 + 2.95 * 0.12, rel=1e-6)
    assert plenum_figure(named(db, shop, "inlet tube"), 4) is None


def fill(db: UnitOfWork, shop: SimpleNamespace) -> None:
    """One row in every new table of evidence."""
    application = shop.application
    path_verbs.add_readings(db, named(db, shop, "Gannet runner"), size_readings("width", 0.0456))
    outline = face_of("round", {"diameter": 0.04})
    a, b = (faces.save_face(db, application, None, outline, replace(ROUND_FACE, name=n)) for n in "ab")
    faces.keep_lay(db, application, a, b, FacePlace(0.001, 0.0), "")
    fit.add_spot(db, application, SPOT)
    timing.add_sheet(db, application, disc_card())
    builds.add_sheet(db, application, build_card())
    new = attachments.NewAttachment("face", a.id, "../p.png", port_photo())
    attachments.put_away(db, attachments.hang(db, application, new), "blurred")


TABLES = ["size_reading", "face_lay", "fit_spot", "wheel_sheet", "build_sheet", "attachment", "attachment_mark"]


@pytest.mark.parametrize("table", TABLES)
def test_new_evidence_only_grows(db: UnitOfWork, shop: SimpleNamespace, table: str) -> None:
    fill(db, shop)
    for statement in (f"update {table} set id = id", f"delete from {table}"):
        with pytest.raises((InternalError, ProgrammingError), match="permission denied"), db.begin_nested():
            db.execute(text(statement))


def test_a_sheet_that_does_not_add_up_is_kept_only_as_read(db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    wrong = disc_card(totals={"intake": factories.degrees(200)})
    with pytest.raises(InputError, match="too much") as problem:
        timing.add_sheet(db, shop.application, wrong)
    assert problem.value.field == "total_intake"
    first = timing.add_sheet(db, shop.application, wrong, as_read=True)
    with pytest.raises(InputError, match="why"):
        timing.add_sheet(db, shop.application, disc_card(), again=first)
    again = timing.add_sheet(db, shop.application, disc_card(why="by a stop"), again=first)
    assert [s.id for s in standing(sheets_of(db, shop.application.id))] == [again.id]


def test_the_filling_that_is_asked_moves_the_flow_in_proportion(shop: SimpleNamespace) -> None:
    """By hand: ρ·V_d·N/2·η of the air in front of the mouth, and half of it at half the filling."""
    vehicle = shop.application.vehicle
    asked = duty.DutyAsked(
        at="6000 rpm",
        filling=0.9,
        temperature=293.15,
        exhaust_temperature=1000.0,
        heat_transfer=20.0,
        air_fuel_ratio=13.0,
        consumption=8e-8,
    )
    full = duty.flowing(vehicle, asked, "metric")
    half = duty.flowing(vehicle, replace(asked, filling=0.45), "metric")
    swept = vehicle.cylinders * pi / 4 * vehicle.bore**2 * vehicle.stroke
    assert full.duty.air_mass_flow == pytest.approx(101325 / (287.05 * 293.15) * swept * 50 * 0.9, rel=2e-3)
    assert half.duty.air_mass_flow == pytest.approx(full.duty.air_mass_flow / 2)
