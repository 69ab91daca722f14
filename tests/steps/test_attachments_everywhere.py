"""Photos and documents hang on every kind of record, and only on records of their own application."""

from __future__ import annotations

import io
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient

from longbreath.core.bench.traverse import face_of
from longbreath.dossier import build as builds
from longbreath.dossier import coverage, timing
from longbreath.dossier.bench import maps, porting
from longbreath.dossier.path import faces, fit
from longbreath.dossier.path.elements import elements_of
from longbreath.dossier.pull import typed
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.steps.attachments.views import RECORDS
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import read
from tests.made.pictures import port_photo


def record(db: UnitOfWork, shop: SimpleNamespace, kind: str) -> Any:
    """One record of a kind in the shop's application."""
    application = shop.application
    db.act_as(shop.people["tester"], application.id)
    outline = face_of("round", {"diameter": 0.04})
    made = {
        "element": lambda: elements_of(db, application.id)[0],
        "face": lambda: faces.save_face(db, application, None, outline, factories.ROUND_FACE),
        "fit": lambda: fit.save_fit(db, application, None, fit.FitCard()),
        "wheel_sheet": lambda: timing.add_sheet(db, application, factories.disc_card()),
        "ladder_rung": lambda: timing.save_rung(db, application, None, timing.RungCard("stock", 1, {})),
        "build_sheet": lambda: builds.add_sheet(db, application, factories.build_card()),
        "bench_session": lambda: shop.session,
        "traverse": lambda: maps.add_map(db, application, outline, factories.MAP),
        "porting_job": lambda: porting.save_job(db, application, None, factories.JOB),
        "test_card": lambda: shop.card,
        "dyno_session": lambda: pull_verbs.open_session(db, application, shop.card, factories.VISIT),
        "pull": lambda: factories.one_pull(db, application, shop.card),
        "typed_pull": lambda: typed.add_typed(
            db,
            application,
            pull_verbs.open_session(db, application, shop.card, factories.VISIT),
            typed.TypedCard("A", "a sheet", "4500 rpm  200 N·m  -"),
            "metric",
        ),
    }[kind]()
    db.flush()
    db.commit()
    return made


@pytest.mark.parametrize("kind", sorted(RECORDS))
def test_a_photo_hangs_on_every_kind_of_record(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, kind: str
) -> None:
    key = record(db, shop, kind).id
    data = {"file": (io.BytesIO(port_photo()), "p.png"), "caption": "seen", "back": "/log"}
    answer = tester.post(f"/applications/{shop.application.id}/attachments/{kind}/{key}", data=data)
    assert answer.status_code == 302
    assert answer.headers["Location"] == "/log#attached"


def test_a_record_of_another_application_is_none_of_this_one(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    face = record(db, shop, "face")
    part = factories.add_part(db, "Other")
    other = coverage.open_application(db, shop.application.vehicle_id, part.id, shop.application.stock_revision_id)
    db.commit()
    data = {"file": (io.BytesIO(port_photo()), "p.png"), "caption": ""}
    assert tester.post(f"/applications/{other.id}/attachments/face/{face.id}", data=data).status_code == 404
    assert tester.get(f"/applications/{other.id}/measure/faces/{face.id}").status_code == 404


@pytest.mark.parametrize("back", ["https://elsewhere.example.test/", "//elsewhere.example.test", "javascript:alert(1)"])
def test_the_way_back_stays_on_this_site(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, back: str) -> None:
    key = record(db, shop, "face").id
    data = {"file": (io.BytesIO(port_photo()), "p.png"), "caption": "", "back": back}
    answer = tester.post(f"/applications/{shop.application.id}/attachments/face/{key}", data=data)
    assert answer.headers["Location"] == "/#attached"


def test_a_refused_file_keeps_its_caption(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    key = record(db, shop, "face").id
    data = {"file": (io.BytesIO(b"junk"), "p.png"), "caption": "my words", "back": "/log"}
    answer = tester.post(f"/applications/{shop.application.id}/attachments/face/{key}", data=data)
    assert answer.status_code == 422
    page = read(answer)
    assert page.select_one("#caption")["value"] == "my words"
    assert "neither" in page.select_one("#file-error").text
    assert page.select_one("[name=back]")["value"] == "/log"
