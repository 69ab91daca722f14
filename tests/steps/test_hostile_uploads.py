"""Files meant to hurt, sent to every page that takes one: a sentence with a 4xx, the page works on, and nothing was kept."""

from __future__ import annotations

import io
from contextlib import suppress
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import func, select

from longbreath.core.basis.errors import InputError
from longbreath.dossier.pull import logs
from longbreath.store.models import Attachment, BenchSheet, Face, RawFile
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import errors_of
from tests.formats import hostile
from tests.steps.tools import base, good, open_session, upload

QUICK = [name for name in hostile.ATTACKS if name not in ("digits without end", "200 MB of shared strings")]
FACE = {
    "name": "port",
    "shape": "outline",
    "belongs_to": "B",
    "tool": "scan",
    "wall_limit": "3 mm",
    "precision": "0.1 mm",
}


def send(client: FlaskClient, shop: SimpleNamespace, name: str, data: bytes) -> dict[str, Any]:
    """Send a file to every page that takes one; what each answered."""
    here = base(shop)

    def to(address: str, field: str, **more: str) -> Any:
        form = {field: (io.BytesIO(data), name), **more}
        return client.post(f"{here}/{address}", data=form, content_type="multipart/form-data")

    session = open_session(client, shop)
    return {
        "pull": to(f"pull/sessions/{session}/files", "files"),
        "sheet": to(f"measure/sessions/{shop.session.id}/sheets", "file"),
        "face": to("measure/faces/new", "file", **FACE),
        "photo": to(f"attachments/bench_session/{shop.session.id}", "file"),
    }


def kept(db: UnitOfWork) -> list[int]:
    return [db.scalar(select(func.count(model.id))) or 0 for model in (RawFile, BenchSheet, Face, Attachment)]


@pytest.mark.parametrize(
    "attack", [*QUICK[::4], *(pytest.param(a, marks=pytest.mark.slow) for a in QUICK if a not in QUICK[::4])]
)
def test_every_page_refuses_it_in_words_and_keeps_nothing(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, attack: str
) -> None:
    name, make, _ = hostile.ATTACKS[attack]
    before = kept(db)
    for page, answer in send(tester, shop, name, make()).items():
        honest = page in ("sheet", "pull") and answer.status_code == 302
        # a bench sheet may hold few rows, a log many: some attacks are none there
        assert 400 <= answer.status_code < 500 or honest, (page, answer.status_code)
        assert honest or errors_of(answer), page
    db.expire_all()
    for file in db.scalars(select(RawFile)).all():  # what a worker reads afterwards is a table, or refused in words
        with suppress(InputError):
            assert logs.read(db, file).tables
    assert kept(db)[2:] == before[2:]


@pytest.mark.parametrize(
    "kind", ["csv", *(pytest.param(kind, marks=pytest.mark.slow) for kind in ("xlsx", "svg", "dxf", "photo"))]
)
def test_mutated_files_break_no_page(tester: FlaskClient, shop: SimpleNamespace, kind: str) -> None:
    for name, data in hostile.mutations(kind, 3):
        for page, answer in send(tester, shop, name, data).items():
            assert answer.status_code < 500, (kind, page, name)


@pytest.mark.parametrize("place", ["²", "٣", "9" * 5000, "0", "-1", "1.0", "", "1; drop table pull", "\x00"])
def test_a_place_that_is_none_is_refused_beside_it(tester: FlaskClient, shop: SimpleNamespace, place: str) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("pull.csv", good(1)))
    file = tester.get(f"{base(shop)}/pull/sessions/{session}/mapping").text.split('name="f')[1].split("-place")[0]
    address = f"{base(shop)}/pull/sessions/{session}/mapping"
    answer = tester.post(address, data={f"f{file}-place": place, "record": "1"})
    assert answer.status_code == 422
    assert "no place in the order" in errors_of(answer) or "no place in the order" in answer.text


@pytest.mark.parametrize(
    "filename", ["a\x00b.csv", "../../etc/passwd.csv", "a\nb.csv", "x" * 4000 + ".csv", "\u202egnp.csv"]
)
def test_the_name_of_a_file_is_kept_as_a_name(tester: FlaskClient, shop: SimpleNamespace, filename: str) -> None:
    session = open_session(tester, shop)
    answer = upload(tester, shop, session, (filename, good(1)))
    assert answer.status_code in (302, 422, 400)
    assert tester.get(f"{base(shop)}/pull/sessions/{session}/mapping").status_code in (200, 302)


@pytest.mark.parametrize("label", ["Z", "", "AB", "\u0410", "x" * 5000])
def test_a_label_that_is_none_is_refused(tester: FlaskClient, shop: SimpleNamespace, label: str) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("pull.csv", good(1)))
    address = f"{base(shop)}/pull/sessions/{session}/mapping"
    file = tester.get(address).text.split('name="f')[1].split("-place")[0]
    answer = tester.post(address, data={f"f{file}-label": label, "record": "1"})
    assert answer.status_code == 422
    assert "A pull is of A or B" in answer.text
