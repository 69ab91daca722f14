"""Home and library: what is where, filters, finding, adding, the log, the method notes."""

from __future__ import annotations

from types import SimpleNamespace

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.dossier import coverage, library
from longbreath.dossier.conditions import engine_of
from longbreath.store.models import Product, Revision, Vehicle
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import errors_of, read
from tests.steps.tools import base

VEHICLE = {
    "name": "Marlpit Parcel 2.1D",
    "years": "2015–2020",
    "cycle": "four-stroke",
    "cylinders": "4",
    "bore": "85 mm",
    "stroke": "94 mm",
    "compression_ratio": "16.5",
    "intake_duration": "220",
    "induction": "turbo",
    "fuel": "diesel",
    "use": "delivery",
    "market": "",
    "redline": "4200 rpm",
    "band_low": "1200 rpm",
    "band_middle": "1800 rpm",
    "band_top": "3000 rpm",
    "band_end": "4000 rpm",
    "units": "metric",
}
PRODUCT = {"name": "Parcel cast elbow", "family": "elbow", "side": "intake", "revision": "rev A", "state": "as cast"}


def test_home_shows_each_application_and_what_is_owed(tester: FlaskClient, shop: SimpleNamespace) -> None:
    page = read(tester.get("/"))
    assert "Gannet long-runner manifold" in page.select_one("table.coverage").text
    label = page.select_one(".tube")["aria-label"]
    assert label == "measure started, reckon nothing, plan done, pull nothing, weigh nothing, claim nothing"
    assert "6 lifts of A and B on the bench" in page.select_one("table.coverage").text
    assert "claim none" in page.select_one(".map a.spot")["aria-label"]


@pytest.mark.parametrize(
    ("query", "found"),
    [("side=intake", True), ("side=exhaust", False), ("family=manifold&use=road", True), ("use=track", False)],
)
def test_filters(tester: FlaskClient, shop: SimpleNamespace, query: str, found: bool) -> None:
    page = read(tester.get(f"/?{query}"))
    assert (page.select_one("table.coverage") is not None) == found
    assert found or "No application matches" in page.text


def test_many_products_are_shown_by_pages(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    for number in range(41):
        made = factories.add_part(db, f"Part {number:02}")
        coverage.open_application(db, shop.application.vehicle_id, made.id, shop.application.stock_revision_id)
    db.commit()
    first, second = read(tester.get("/")), read(tester.get("/?page=2"))
    assert len(first.select(".coverage tbody tr")) == len(first.select(".map tbody tr")) == 40
    assert len(second.select(".coverage tbody tr")) == len(second.select(".map tbody tr")) == 2
    assert "page 1 of 2" in first.select_one(".pages").text
    assert len(read(tester.get("/?page=99")).select(".coverage tbody tr")) == 2


def test_an_application_opens_at_its_first_step_that_is_not_done(tester: FlaskClient, shop: SimpleNamespace) -> None:
    assert tester.get(base(shop)).location == f"{base(shop)}/measure"


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("gannet", "Gannet"),
        ("heron", "Heron"),
        ("squash", "Area of a squashed tube"),
        ("zzz", "Nothing holds"),
        ("manifold four-stroke", "Gannet"),
        ("petrol road intake", "Gannet"),
        ("heron zzz", "Nothing holds"),
        ("%", "Nothing holds"),
        ("injectors", "Injector duty"),
    ],
)
def test_finding(tester: FlaskClient, shop: SimpleNamespace, text: str, expected: str) -> None:
    assert expected in read(tester.get(f"/find?q={text}")).select_one("#results").text


def test_a_second_application_of_the_same_revision_is_refused(tester: FlaskClient, shop: SimpleNamespace) -> None:
    form = {
        "vehicle_id": shop.application.vehicle_id,
        "revision_id": shop.application.revision_id,
        "stock_revision_id": shop.application.stock_revision_id,
    }
    answer = tester.post("/applications/new", data=form)
    assert answer.status_code == 422
    assert "already has an application on this vehicle" in errors_of(answer)


def test_a_stock_part_of_the_other_side_is_refused(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    other = factories.add_part(db, "stock downpipe", "stock", family="downpipe", side="exhaust", is_stock=True)
    fresh = library.add_revision(db, shop.application.product, "rev D", "")
    db.commit()
    form = {"vehicle_id": shop.application.vehicle_id, "revision_id": fresh.id, "stock_revision_id": other.id}
    assert "same side" in errors_of(tester.post("/applications/new", data=form))


def test_a_vehicle_is_added_once_and_kept_in_si(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    assert tester.post("/library/vehicles/new", data=VEHICLE).status_code == 302
    found = db.scalars(select(Vehicle).where(Vehicle.name == VEHICLE["name"])).one()
    assert found.bore == pytest.approx(0.085)
    assert found.redline == pytest.approx(439.823, rel=1e-5)
    assert "of this name already" in errors_of(tester.post("/library/vehicles/new", data=VEHICLE))


def test_changing_a_vehicle_loses_no_digit_of_what_was_not_touched(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    vehicle = shop.application.vehicle
    address = f"/library/vehicles/{vehicle.id}"
    page = read(tester.get(address))
    form = {f["name"]: f.get("value", "") for f in page.select("main input[name]")}
    form |= {
        f["name"]: (f.select_one("option[selected]") or f.select_one("option"))["value"]
        for f in page.select("main select[name]")
    }
    assert tester.post(address, data={**form, "years": "2013–2019"}).status_code == 302
    db.expire_all()
    assert vehicle.years == "2013–2019"
    for name in ("bore", "stroke", "redline", "band_low", "intake_duration"):
        assert getattr(vehicle, name) == pytest.approx(getattr(factories.HERON, name), rel=1e-6), name
    assert tester.post(address, data={**form, "years": "late"}).status_code == 409


def test_products_and_revisions(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    assert tester.post("/library/products/new", data=PRODUCT).status_code == 302
    assert "of this name already" in errors_of(tester.post("/library/products/new", data=PRODUCT))
    made = db.scalars(select(Product).where(Product.name == PRODUCT["name"])).one()
    address = f"/library/products/{made.id}/revisions/new"
    assert tester.post(address, data={"name": "rev B", "state": "machined"}).status_code == 302
    assert "revision of that name already" in errors_of(tester.post(address, data={"name": "rev B", "state": ""}))


def test_a_revision_without_a_state_gets_one_once(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    product = shop.application.revision.product
    tester.post(f"/library/products/{product.id}/revisions/new", data={"name": "rev bare"})
    bare = db.scalars(select(Revision).where(Revision.name == "rev bare")).one()
    address = f"/library/revisions/{bare.id}/state"
    assert read(tester.get("/library")).select_one(f"a[href='{address}']") is not None
    assert errors_of(tester.post(address, data={"state": " "})) != ""
    assert tester.post(address, data={"state": "as cast"}).status_code == 302
    db.expire_all()
    assert bare.state == "as cast"
    assert read(tester.get("/library")).select_one(f"a[href='{address}']") is None
    assert "another revision" in errors_of(tester.post(address, data={"state": "machined"}))
    db.expire_all()
    assert bare.state == "as cast"


def test_benches_ranges_and_dynos(tester: FlaskClient, shop: SimpleNamespace) -> None:
    bench = {
        "name": "Second bench",
        "meter": "range",
        "taps": "corner",
        "temperature_rule": "none",
        "leak_limit": "2 cfm",
        "check_days": "30",
        "percent_step": "0.1 %",
        "pressure_step": "0.1 inH2O",
        "label": "1",
        "full_scale": "75 cfm",
    }
    assert tester.post("/library/benches/new", data=bench).status_code == 302
    assert "of this name already" in errors_of(tester.post("/library/benches/new", data=bench))
    address = f"/library/benches/{shop.bench.id}/ranges/new"
    assert tester.post(address, data={"label": "5", "full_scale": "600 cfm"}).status_code == 302
    assert "range of that name already" in errors_of(tester.post(address, data={"label": "5", "full_scale": "700 cfm"}))
    dyno = {"name": "Cell 2", "measured_at": "crank", "repeatability": "1.2 lb-ft", "repeatability_source": "9 repeats"}
    assert tester.post("/library/dynos/new", data=dyno).status_code == 302
    text = read(tester.get("/library")).get_text(" ")
    assert "600" in text
    assert "Cell 2" in text


def test_the_log_tells_who_did_what_newest_first(tester: FlaskClient, shop: SimpleNamespace) -> None:
    tester.post("/library/products/new", data=PRODUCT)
    rows = read(tester.get("/log")).select("tbody tr")
    assert "added revision" in rows[0].text
    assert "Tester" in rows[0].text
    assert read(tester.get(f"/log?application={shop.application.id}")).select("tbody tr")
    assert "page 2" in read(tester.get("/log?page=2")).select_one(".pages").text


def test_the_log_gives_changed_figures_their_unit(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    shop.session.temperature, shop.application.vehicle.redline = 300.0, 750.0
    db.commit()
    text = read(tester.get("/log")).select_one("tbody").text
    assert "temperature: 293.15 → 300 K" in text
    assert "redline: 743.51 → 750 rad/s" in text


@pytest.mark.parametrize("name", ["bench", "discharge", "ports", "correction", "comparison"])
def test_method_notes_name_formula_assumptions_and_source(tester: FlaskClient, name: str) -> None:
    text = read(tester.get(f"/method/{name}")).select_one(".prose").text
    assert "Source" in text or "source" in text or "from memory" in text
    assert tester.get("/method/nothing").status_code == 404


def test_the_tour_follows_a_published_application_or_says_there_is_none(
    tester: FlaskClient, shop: SimpleNamespace
) -> None:
    assert "nothing to walk through" in read(tester.get("/tour")).select_one("h1").text


def test_a_size_comes_back_as_it_was_typed_with_the_other_unit_beside_it(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    """190 mm on a screen in US units is 190 mm again, not 7.480315 in."""
    vehicle = shop.application.vehicle
    vehicle.rod, vehicle.bore = 0.190, 3.33 * 0.0254
    db.commit()
    form = read(tester.get(f"/library/vehicles/{vehicle.id}"))
    assert form.select_one("#rod")["value"] == "190 mm"
    beside = {
        name: next(f for f in form.select(".field") if f.select_one(f"#{name}")).select_one(".understood")
        for name in ("rod", "bore")
    }
    assert beside["rod"].text.strip() == "= 7.48\u00a0in"
    assert form.select_one("#bore")["value"] == "3.33"
    assert beside["bore"].text.strip() == "= 84.58\u00a0mm"


def test_a_disc_engine_is_not_asked_how_long_its_intake_is_open(tester: FlaskClient, db: UnitOfWork) -> None:
    data = {
        "name": "Kart",
        "cycle": "two-stroke",
        "cylinders": "1",
        "bore": "54 mm",
        "stroke": "54 mm",
        "compression_ratio": "12",
        "induction": "naturally aspirated",
        "fuel": "petrol",
        "use": "track",
        "redline": "12000",
        "band_low": "7000",
        "band_middle": "8500",
        "band_top": "10000",
        "band_end": "11500",
    }
    assert tester.post("/library/vehicles/new", data=data).status_code == 302
    kart = db.scalars(select(Vehicle).where(Vehicle.name == "Kart")).one()
    assert (kart.cycle, kart.intake_duration) == ("two-stroke", None)
    assert "1 cylinder, two-stroke" in read(tester.get("/library")).text


def test_the_sizes_are_those_of_the_kind_of_engine(tester: FlaskClient, db: UnitOfWork) -> None:
    """A rotor has a chamber and no bore; an intake duration may be left out of any of them."""
    rotor = {**VEHICLE, "name": "Rotor", "cycle": "rotary", "cylinders": "2", "intake_duration": ""}
    assert "has no such size (a bore)" in errors_of(tester.post("/library/vehicles/new", data=rotor))
    rotor |= {"bore": "", "stroke": ""}
    assert "This is missing" in errors_of(tester.post("/library/vehicles/new", data=rotor))
    assert tester.post("/library/vehicles/new", data={**rotor, "chamber_volume": "654 cc"}).status_code == 302
    made = db.scalars(select(Vehicle).where(Vehicle.name == "Rotor")).one()
    assert (made.bore, made.stroke, made.intake_duration) == (None, None, None)
    assert engine_of(made).displacement == pytest.approx(1308e-6)
    assert "a rotor" in read(tester.get("/library")).text
    four = {**VEHICLE, "name": "Four", "intake_duration": ""}
    assert "has no such size (a rotor's chamber)" in errors_of(
        tester.post("/library/vehicles/new", data={**four, "chamber_volume": "654 cc"})
    )
    assert tester.post("/library/vehicles/new", data=four).status_code == 302


def test_a_revision_that_is_a_number_is_told_to_be_one(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    shop.application.revision.name, shop.application.revision.product.name = "1", "2"
    db.commit()
    assert "2 revision 1 on" in read(tester.get(f"{base(shop)}/measure")).select_one("title").text


def test_the_pages_for_those_who_build_on_it(tester: FlaskClient) -> None:
    shown = read(tester.get("/components"))
    assert shown.select_one("#metric")["value"] == "190 mm"
    assert "is not a unit of a length" in shown.select_one("#wrong-error").text
    symbols = read(tester.get("/method/nomenclature"))
    assert "volumetric efficiency" in symbols.text


def test_an_error_leads_back_to_where_one_was_or_to_the_application(tester: FlaskClient, shop: SimpleNamespace) -> None:
    def links(address: str, referrer: str = "") -> list[str]:
        answer = tester.get(address, headers={"Referer": referrer} if referrer else {})
        assert answer.status_code == 404
        return [a["href"] for a in read(answer).select("main a")]

    nowhere = f"{base(shop)}/nowhere"
    assert links(nowhere, "http://localhost/library?x=1") == ["/library?x=1", "/"]
    assert links(nowhere) == [base(shop), "/"]
    assert links(nowhere, f"http://localhost{nowhere}") == [base(shop), "/"]
    assert links("/nowhere", "http://elsewhere.example.test/library") == ["/"]
