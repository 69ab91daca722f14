"""The house's map: forty products on sixty vehicles, filters and views, what one more test would buy, and the tour over it all."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from dataclasses import replace
from types import SimpleNamespace

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.demo import office
from longbreath.dossier import coverage, library
from longbreath.drawing.coverage_map import MapLine, MapSpot, coverage_map
from longbreath.store.models import Application, SavedView, User
from longbreath.store.unit_of_work import UnitOfWork
from longbreath.web.tours import STOPS
from tests import factories
from tests.conftest import errors_of, read
from tests.made import dyno_day


def wide(db: UnitOfWork, shop: SimpleNamespace, products: int, vehicles: int) -> None:
    """Applications of many products, each on one of many vehicles."""
    db.act_as(shop.people["tester"])
    cards = [replace(factories.HERON, name=f"Vehicle {chr(97 + k) * 3}") for k in range(vehicles)]
    made = [library.add_vehicle(db, card) for card in cards]
    for k in range(products):
        part = factories.add_part(db, f"Part {k:02}")
        coverage.open_application(db, made[k % vehicles].id, part.id, shop.application.stock_revision_id)
    db.commit()


def test_many_vehicles_stand_upright_and_every_application_is_a_mark(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    wide(db, shop, 30, 15)
    page = read(tester.get("/"))
    table = page.select_one(".map.is-dense")
    assert len(table.select("thead th")) == 17
    assert len(table.select("a.spot")) == 31
    assert all(a["aria-label"] and a["href"].startswith("/applications/") for a in table.select("a.spot"))


def test_the_map_of_a_whole_house_is_drawn_at_once() -> None:
    lines = [MapLine(k, f"Part <{k}>", "intake", "manifold") for k in range(40)]
    vehicles = [(k, f"Vehicle {k}") for k in range(60)]
    spot = MapSpot("/applications/1", 'a "word"', ("gain", "loss", "no meaningful difference"), "published", True)
    drawn = str(coverage_map(lines, vehicles, {(k, j): spot for k in range(40) for j in range(60)}))
    assert drawn.count("<td>") == 2400
    assert "Part &lt;3&gt;" in drawn
    assert 'a "word"' not in drawn
    assert "is-dense" in drawn
    few = str(coverage_map(lines[:1], vehicles[:2], {}))
    assert "is-dense" not in few
    assert few.count("<td></td>") == 2


def test_what_is_claimed_owed_and_sought_filters_the_map(
    tester: FlaskClient, db: UnitOfWork, day_published: SimpleNamespace
) -> None:
    pulled = day_published
    wide(db, pulled, 3, 2)

    def parts(query: str) -> set[str]:
        return {a.text for a in read(tester.get(f"/?{query}")).select("table.coverage th a")}

    assert parts("claim=published") == {"Gannet long-runner manifold"}
    assert parts("claim=none") == {"Part 00", "Part 01", "Part 02"}
    assert parts("q=gannet+heron") == {"Gannet long-runner manifold"}
    assert parts("q=vehicle+bbb") == {"Part 01"}
    assert "Part 02" in parts("owed=1")
    assert parts("q=%25") == set()
    assert "is-published" in str(read(tester.get("/")).select_one(".map"))


def test_a_baseline_that_serves_several_is_named(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    wide(db, shop, 4, 1)
    words = read(tester.get("/")).select_one(".buys").text
    assert "a baseline of the Heron stock manifold on the Vehicle aaa serves 4 applications" in words


@pytest.mark.parametrize("order", ["", "part", "vehicle", "money", "nonsense"])
def test_every_order_shows_everything(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, order: str) -> None:
    wide(db, shop, 3, 2)
    assert len(read(tester.get(f"/?order={order}")).select("table.coverage tbody tr")) == 4


def test_the_list_is_exported(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    wide(db, shop, 2, 1)
    rows = list(csv.DictReader(io.StringIO(tester.get("/coverage.csv?q=part").get_data(as_text=True))))
    assert {row["part"] for row in rows} == {"Part 00 rev A", "Part 01 rev A"}
    assert rows[0]["claim"] == "none"
    assert "measure:nothing" in rows[0]["steps"]


def test_a_way_of_looking_is_kept_by_its_owner(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, shop: SimpleNamespace
) -> None:
    viewer, tester = log_in("viewer"), log_in("tester")
    kept = viewer.post("/views", data={"name": "Intake", "query": "side=intake"})
    assert kept.status_code == 302
    assert kept.location.endswith("?side=intake")
    assert "Intake" in read(viewer.get("/")).select_one(".views").text
    assert read(tester.get("/")).select_one(".views") is None
    number = db.scalars(select(SavedView.id)).one()
    tester.post(f"/views/{number}/forget")
    assert db.scalar(select(SavedView.id)) == number
    viewer.post("/views", data={"name": "Intake", "query": "side=exhaust"})
    db.expire_all()
    assert db.scalars(select(SavedView.query)).all() == ["side=exhaust"]
    viewer.post(f"/views/{number}/forget")
    assert db.scalar(select(SavedView.id)) is None
    empty = viewer.post("/views?side=intake", data={"name": " ", "query": "side=intake"})
    assert empty.status_code == 422
    assert "Give this view a name" in errors_of(empty)


def test_the_tour_walks_real_pages_is_left_and_taken_up(
    tester: FlaskClient, db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    assert "nothing to walk through yet" in read(tester.get("/tour")).select_one("h1").text
    dyno_day.closed_course(db, pulled.application, "all of them")
    office.publish(db, pulled.application, pulled.people["approver"], "torque")
    db.commit()
    assert len(read(tester.get("/tour")).select(".tour li")) == len(STOPS)
    for number, stop in enumerate(STOPS, start=1):
        answer = tester.post("/tour/go", data={"to": str(number)})
        page = read(tester.get(answer.location))
        assert f"{number} of {len(STOPS)}: {stop.title}." in page.select_one(".tour-bar").text
    tester.post("/tour/go", data={"to": "3"})
    tester.post("/tour/go", data={"to": "leave"})
    assert read(tester.get("/")).select_one(".tour-bar") is None
    assert "Take it up at stop 3" in read(tester.get("/tour")).text
    tester.post("/tour/go", data={"to": str(len(STOPS) + 1)})
    assert db.scalar(select(User.tour).where(User.role == "tester")) is None
    for odd in ("0", "-1", "²", "99999999999", "x"):
        assert tester.post("/tour/go", data={"to": odd}).status_code == 302
    assert db.scalar(select(Application.id)) is not None
