"""What the shop keeps: each register is filled, changed and refused beside the field; labels, moves, a dyno's scatter."""

from __future__ import annotations

import io
from datetime import date
from types import SimpleNamespace

import pypdf
import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.dossier import shop as shop_dossier
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.plan.scatter import fit_scatter
from longbreath.dossier.records.scatter import scatter_of
from longbreath.store.models import EngineStay, OutsideTable, Sample, Sensor, TestEngine, Verdict
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import errors_of, read, send
from tests.made import dyno_day

RIGHT: dict[str, dict[str, str]] = {
    "cells": {"name": "Cell 2", "opens": "07:30", "closes": "18:00", "days": "12345", "rate": "90"},
    "engines": {"serial": "E-1", "breakaway": "31 N·m", "units": "metric"},
    "tunes": {"name": "T-1", "author": "the shop", "injectors": "stock"},
    "fuels": {"name": "May", "grade": "98", "delivered_on": "2026-05-02", "density": "744", "units": "metric"},
    "sensors": {
        "name": "P-1",
        "measures": "manifold pressure",
        "low": "0",
        "high": "300",
        "is_absolute": "y",
        "units": "metric",
    },
    "checklists": {"family": "header", "lines": "Flange flat\nGasket new"},
    "outside": {
        "name": "Old",
        "source": "a paper",
        "grade": "published",
        "test_bed": "an engine dyno",
        "interest": "none known",
        "quantity": "torque",
        "columns": "stock; part",
        "rows": "2000 100 104\n3000; 120; 125",
        "units": "metric",
    },
}
WRONG = (
    ("cells", {"opens": "noon"}, "no time of day"),
    ("cells", {"closes": "06:00"}, "closes before it opens"),
    ("cells", {"days": "weekdays"}, "by their numbers"),
    ("sensors", {"high": "-5"}, "ends before it begins"),
    ("outside", {"rows": "2000 100"}, "holds 2 numbers"),
    ("outside", {"rows": "3000 1 2\n2000 1 2"}, "must rise"),
    ("outside", {"columns": " ; "}, "Name the curves"),
    ("outside", {"rows": "2000 1 x\n3000 1 2"}, "Line 1"),
    ("checklists", {"lines": "   "}, "a line at least"),
    ("engines", {"breakaway": "much"}, "number"),
)


@pytest.mark.parametrize("register", list(RIGHT))
def test_a_register_is_filled_and_changed_and_keeps_its_names_apart(
    tester: FlaskClient, shop: SimpleNamespace, register: str
) -> None:
    address, data = f"/library/shop/{register}", RIGHT[register]
    assert send(tester, f"{address}/new", data).status_code == 302
    listed = read(tester.get(address))
    link = listed.select_one("td.acts a")["href"]
    assert next(iter(data.values())) in listed.text
    assert send(tester, link, data).status_code == 302
    taken = send(tester, f"{address}/new", data)
    assert taken.status_code == 422
    assert "taken already" in errors_of(taken)


@pytest.mark.parametrize(("register", "change", "words"), WRONG)
def test_bad_entries_are_answered_in_words(
    tester: FlaskClient, shop: SimpleNamespace, register: str, change: dict[str, str], words: str
) -> None:
    answer = send(tester, f"/library/shop/{register}/new", {**RIGHT[register], **change})
    assert answer.status_code == 422
    assert words in errors_of(answer)


def test_a_test_engine_moves_and_keeps_its_pulls(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    send(tester, "/library/shop/engines/new", RIGHT["engines"])
    engine = db.scalars(select(TestEngine)).one()
    vehicle = str(shop.application.vehicle_id)
    move = f"/library/engines/{engine.id}/move"
    assert send(tester, move, {"vehicle_id": vehicle, "since": "2026-05-01"}).status_code == 302
    early = send(tester, move, {"vehicle_id": "0", "since": "2026-04-01"})
    assert "before that" in errors_of(early)
    assert send(tester, move, {"vehicle_id": "0", "since": "2026-06-01"}).status_code == 302
    db.act_as(shop.people["tester"], shop.application.id)
    dyno_day.pulled(db, shop.application, shop.card)
    session = gather(db, shop.application).session
    session.engine_id = engine.id
    db.commit()
    page = read(tester.get(f"/library/shop/engines/{engine.id}"))
    assert "10 pulls were taken with it" in page.text
    assert "on the stand" in page.text
    assert len(db.scalars(select(EngineStay)).all()) == 2


def test_a_piece_has_a_label_with_its_number(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    data = {"revision_id": str(shop.application.revision_id), "serial": "03", "place": "shelf 2"}
    assert send(tester, "/library/shop/samples/new", data).status_code == 302
    sample = db.scalars(select(Sample)).one()
    label = tester.get(f"/library/shop/samples/{sample.id}/label")
    assert "no. 03" in pypdf.PdfReader(io.BytesIO(label.data)).pages[0].extract_text()
    assert tester.get("/library/shop/cells/1/label").status_code == 404
    assert tester.get("/library/shop/nothing").status_code == 404


def test_others_tables_are_drawn_and_never_offered_to_a_card(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    send(tester, "/library/shop/outside/new", RIGHT["outside"])
    table = db.scalars(select(OutsideTable)).one()
    page = read(tester.get(f"/library/shop/outside/{table.id}"))
    assert len(page.select("svg.outside polyline")) == 2
    assert "backs no claim" in page.text
    form = read(tester.get(f"/applications/{shop.application.id}/plan/variants/new"))
    assert "Old" not in form.select_one("form").text.replace("Older", "")


def test_promise_and_verdict_take_a_scatter_from_its_day_on(
    db: UnitOfWork, day_without_sheets: SimpleNamespace
) -> None:
    shop, application = day_without_sheets, day_without_sheets.application
    before = gather(db, application).key
    early = scatter_of(db, shop.dyno, date(2026, 5, 14))
    assert early.origin == "Rollers: 12 repeats"
    found = fit_scatter(db, shop.dyno, date(2026, 5, 20))
    assert gather(db, application).key == before, "a verdict of an earlier day stays as it is"
    assert scatter_of(db, shop.dyno, date(2026, 5, 20)).pull == found.pull
    assert found.working["pulls"] == 9
    assert db.scalars(select(Verdict)).one().evidence_key == before


def test_a_dyno_says_what_it_is_and_is_fitted_in_the_background(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    address = f"/library/dynos/{shop.dyno.id}"
    more = {
        "kind": "hub",
        "channels": "λ",
        "calibrated_on": "2026-01-02",
        "calibration_due": "2027-01-01",
        "cell_id": "0",
    }
    assert send(tester, address, more).status_code == 302
    page = read(tester.get(address))
    assert "not known" in page.text
    assert tester.post(f"{address}/fit").status_code == 302
    assert "Waiting for a worker" in read(tester.get(address)).text


def test_a_person_has_skills_and_a_rate(log_in: object, shop: SimpleNamespace) -> None:
    admin = log_in("admin")  # type: ignore[operator]
    number = shop.people["tester"].id
    assert send(admin, f"/library/people/{number}", {"skills": "dyno, tuning", "rate": "45"}).status_code == 302
    assert read(admin.get(f"/library/people/{number}")).select_one("#skills")["value"] == "dyno, tuning"
    assert shop_dossier.digest_of(b"") == ""


def test_a_table_is_pasted_whole_or_not_at_all(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    """Headings are the labels of the form in any order; the first wrong cell is named by its line, and nothing is kept."""
    address = "/library/shop/sensors/paste"
    wanted = read(tester.get(address)).text
    assert "Range from" in wanted
    head = "Range from\tName\tMeasures\tto\tCalibration lapses\tAbsolute: it reads the air around as well\n"
    rows = "0 kPa\tP-7\tmanifold pressure\t300 kPa\t2027-03-01\tyes\n0 kPa\tP-8\tback pressure\t{}\t\tno\n"
    for text, words in (
        ("P-7", "no rows"),
        (head.replace("Measures", "Colour") + rows, "“Colour” is no heading"),
        ("Name\tMeasures\nP-7\tboost", "A column “Range from” is wanted"),
        (head + rows.format("300 kPa").replace("\tno", "\tno\tmore"), "Line 3 has more cells"),
        (head.replace("Calibration lapses", "Name") + rows, "A heading stands there twice"),
        (head + rows.format("x" * 99_000 + "\r"), "Line 3, to:"),
        (head + rows.format("-5 kPa"), "Line 3, to: The range ends before it begins"),
        (head + rows.format("much"), "Line 3, to:"),
        (head + rows.format("300 kPa") * 2, "Line 4, Name: This name is taken already"),
    ):
        answer = send(tester, address, {"table": text})
        assert words in errors_of(answer)
        assert db.scalars(select(Sensor)).all() == []
    assert send(tester, address, {"table": head + rows.format("300 kPa")}).status_code == 302
    kept = {s.name: (s.high, s.is_absolute, s.due_on) for s in db.scalars(select(Sensor))}
    assert kept == {"P-7": (300e3, True, date(2027, 3, 1)), "P-8": (300e3, False, None)}
    title = shop.application.revision.title
    pieces = f"Part;Number\n{title};01\n{title};02\nno such part;03"
    assert "Line 4, Part:" in errors_of(send(tester, "/library/shop/samples/paste", {"table": pieces}))
    assert send(tester, "/library/shop/samples/paste", {"table": pieces.rpartition("\n")[0]}).status_code == 302
    assert {s.serial for s in db.scalars(select(Sample))} == {"01", "02"}
