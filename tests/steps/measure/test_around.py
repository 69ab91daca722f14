"""Geometry seen from elsewhere: vehicles, the card, the tour, the reckoner, viewers, and files that are no outlines."""

from __future__ import annotations

import io
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from longbreath.core.basis.errors import InputError
from longbreath.core.build import sheet
from longbreath.dossier import build as builds
from longbreath.dossier import coverage, library
from longbreath.dossier.path import duty, versions
from longbreath.dossier.path.elements import elements_of, owed
from longbreath.formats import outline
from longbreath.store.models import Application
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import read
from tests.made import dyno_day
from tests.made.pictures import PIXELS_PER_MM, port_photo


def test_a_vehicle_has_its_rod_and_crankcase(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    address = f"/library/vehicles/{shop.application.vehicle_id}"
    form = {f["name"]: f.get("value", "") for f in read(tester.get(address)).select("form.form input[name]")}
    selects = {
        s["name"]: s.select_one("option[selected]")["value"]
        for s in read(tester.get(address)).select("form.form select")
    }
    assert form["rod"] == "141 mm"
    answer = tester.post(address, data={**form, **selects, "rod": "5 km"})
    assert answer.status_code == 422
    assert tester.post(address, data={**form, **selects, "rod": "142 mm", "case_volume": "510 cc"}).status_code == 302
    db.expire_all()
    assert shop.application.vehicle.rod == pytest.approx(0.142)
    assert shop.application.vehicle.case_volume == pytest.approx(510e-6)


def test_the_test_card_says_what_the_build_sheets_say(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    plan = f"/applications/{shop.application.id}/plan"
    assert "No build sheet of A and of B is kept" in " ".join(read(tester.get(plan)).select_one(".flash").text.split())
    db.act_as(shop.people["tester"], shop.application.id)
    for label, fuel in (("A", "old delivery"), ("B", "new delivery")):
        card = factories.build_card(label, label, part=label, fuel=fuel)
        builds.add_sheet(db, shop.application, card)
    db.commit()
    note = read(tester.get(plan)).select_one(".flash").text
    assert "comparable with corrections" in note
    facts = read(tester.get(plan)).select_one(".card-sheet .facts").text
    assert "Fuel and batch: A old delivery, B new delivery" in facts


def test_the_reckoner_is_sorted_into_groups(tester: FlaskClient) -> None:
    page = read(tester.get("/reckoner"))
    assert [h.text for h in page.select("main h2")] == [
        "Boost",
        "Dyno",
        "Engine and air",
        "Exhaust",
        "Flow bench",
        "Fuel and money",
        "Path and faces",
        "Retune, pipe and clutch",
        "Timing and headroom",
    ]
    assert len(page.select(".asks a")) == 89


PAGES = ["path", "path?side=exhaust", "faces", "fit", "timing", "timing/ladder", "builds", "builds/headroom"]


@pytest.mark.parametrize("address", PAGES)
def test_viewers_see_every_page_and_no_verb(log_in: Any, shop: SimpleNamespace, address: str) -> None:
    page = read(log_in("viewer").get(f"/applications/{shop.application.id}/measure/{address}"))
    assert page.select_one(".ways [aria-current]") or address == "builds/headroom"
    assert page.select("main form[method=post]") == []
    assert page.select("main a.strong") == []


@pytest.mark.parametrize("address", PAGES)
def test_an_empty_application_says_what_to_do_first(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, address: str
) -> None:
    fresh = factories.add_part(db, "Empty part")
    application = coverage.open_application(
        db, shop.application.vehicle_id, fresh.id, shop.application.stock_revision_id
    )
    db.commit()
    answer = tester.get(f"/applications/{application.id}/measure/{address}")
    assert answer.status_code == 200
    page = read(answer)
    assert page.select_one("main .strong") or page.select_one("main form")
    assert page.select_one("main .lead") or address in ("fit", "builds/headroom")


@given(st.binary(max_size=400), st.sampled_from(["svg", "dxf", "csv", "txt"]))
def test_any_bytes_are_read_as_an_outline_or_refused_in_words(data: bytes, kind: str) -> None:
    found, problem = (), None
    try:
        found = outline.read(f"port.{kind}", data)
    except InputError as error:
        problem = error
    if problem is None:
        assert len(found) >= 3
    else:
        assert (problem.field, problem.message[-1]) == ("file", ".")


LINES = st.dictionaries(
    st.sampled_from([item.key for item in sheet.ITEMS]), st.sampled_from(["", "one", "two", " ONE "])
)


@given(LINES, LINES)
def test_comparing_builds_does_not_depend_on_which_is_left(a: dict[str, str], b: dict[str, str]) -> None:
    one, other = sheet.compare_sheets(a, b), sheet.compare_sheets(b, a)
    assert one.judgement == other.judgement
    assert [d.item for d in one.differences] == [d.item for d in other.differences]
    assert one.unknown == other.unknown
    assert sheet.compare_sheets(a, a).judgement == sheet.COMPARABLE


def application_with(db: UnitOfWork, shop: SimpleNamespace, vehicle: library.VehicleCard, elements: Any) -> Application:
    """A further application with a path of the demo."""
    db.act_as(shop.people["tester"])
    found = library.add_vehicle(db, vehicle)
    part = factories.add_part(db, f"part for {found.name}")
    application = coverage.open_application(db, found.id, part.id, shop.application.stock_revision_id)
    db.act_as(shop.people["tester"], application.id)
    factories.lay_path(db, application, elements)
    return application


def of_the_demo(db: UnitOfWork, shop: SimpleNamespace, folder: str) -> Application:
    """A dossier with the vehicle and the path of a chapter of the demo."""
    (vehicle,) = dyno_day.cards(db, shop.application, folder, "vehicle")
    return application_with(db, shop, vehicle, dyno_day.cards(db, shop.application, folder, "element"))


def rows_of(db: UnitOfWork, application: Application) -> dict[str, tuple[float, float, float | None]]:
    rows = elements_of(db, application.id, "B")
    at = duty.flowing(application.vehicle, duty.usual_duty(application.vehicle), "metric")
    found = versions.volume_rows(application.vehicle, rows, at)
    return {
        row.what: (row.volume.value, row.ratio.value, row.response.value if row.response else None) for row in found
    }


def test_volumes_of_a_boosted_engine_and_of_a_kart(db: UnitOfWork, shop: SimpleNamespace) -> None:
    van = rows_of(db, of_the_demo(db, shop, "04-parcel"))
    volume, ratio, seconds = van["compressor to cylinder"]
    assert 0.005 < volume < 0.009  # charge pipe 1 L, intercooler 2.8 L, elbow 0.5 L, plenum 2.4 L
    assert ratio == pytest.approx(volume / 2.1376e-3, rel=1e-3)
    assert seconds is not None
    assert 0.03 < seconds < 0.12
    assert van["engine to turbine"][0] == pytest.approx(0.26 * 3.14159 / 4 * 0.033**2, rel=1e-4)
    kart = rows_of(db, of_the_demo(db, shop, "06-skim"))
    assert kart["crankcase, piston up"][1] == pytest.approx((520 + 172.09) / 520, rel=1e-3)


def test_a_path_says_what_nobody_measured(db: UnitOfWork, shop: SimpleNamespace) -> None:
    drover = of_the_demo(db, shop, "05-crest")
    words = {o.element.name: o.words for o in owed(elements_of(db, drover.id), drover.vehicle)}
    assert (
        words["air box"]
        == words["muffler"]
        == "measure the pressure drop across it: none is counted for its own inside"
    )
    runner = next(e for e in elements_of(db, drover.id) if e.kind == "runner")
    runner.branches = 5
    words = {o.element.name: o.words for o in owed(elements_of(db, drover.id), drover.vehicle)}
    assert words[runner.name] == "5 branches do not share out 8 cylinders: count again"


def test_diesel_and_boost_begin_with_other_assumptions(db: UnitOfWork, shop: SimpleNamespace) -> None:
    van = of_the_demo(db, shop, "04-parcel")
    diesel, petrol = duty.usual_duty(van.vehicle), duty.usual_duty(shop.application.vehicle)
    assert (diesel.air_fuel_ratio, petrol.air_fuel_ratio) == (22.0, 12.8)
    assert diesel.filling > 1 > petrol.filling
    assert diesel.exhaust_temperature < petrol.exhaust_temperature


def test_the_photo_has_a_ruler_of_sixty_millimetres() -> None:
    """What the tracing rests on: the ticks at 0 and 60 mm are 720 pixels apart."""
    image = Image.open(io.BytesIO(port_photo())).convert("L")
    dark = [x for x in range(130, 880) if image.getpixel((x, 655)) < 80]
    assert max(dark) - min(dark) == pytest.approx(60 * PIXELS_PER_MM, abs=2)
