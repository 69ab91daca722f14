"""Selling text on its pages: pasted, uploaded, laid beside the evidence, exported; bounded and harmless."""

from __future__ import annotations

import csv
import io
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient

from longbreath.core.basis.errors import InputError
from longbreath.dossier import coverage
from longbreath.dossier.claim import words
from longbreath.dossier.claim.house import NotesCard, write_notes
from longbreath.dossier.claim.verbs import state_approval
from longbreath.formats import prose
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import errors_of, read
from tests.made import dyno_day

PAGE = """Gannet long-runner manifold
Gains 90 hp everywhere!
More torque in the mid-range.
Street legal.
Runner length 371 mm.
"""


@pytest.fixture
def known(db: UnitOfWork, pulled: SimpleNamespace) -> SimpleNamespace:
    """The shop with pulls and what a sheet says besides."""
    dyno_day.closed_course(db, pulled.application, "all of them")
    db.commit()
    return pulled


def add(client: FlaskClient, **data: Any) -> Any:
    return client.post("/words/add", data={"title": "Brochure", "application_id": "", "text": PAGE, **data})


def test_a_page_is_laid_beside_the_evidence_sentence_by_sentence(tester: FlaskClient, known: SimpleNamespace) -> None:
    answer = add(tester)
    assert answer.status_code == 302
    page = read(tester.get(answer.location))
    rows = {li.select_one(".said").text: li.select_one(".verdict").text for li in page.select(".sentence")}
    assert rows == {
        "Gannet long-runner manifold": "not a claim",
        "Gains 90 hp everywhere!": "contradicted",
        "More torque in the mid-range.": "supported",
        "Street legal.": "contradicted",
        "Runner length 371 mm.": "not a claim",
    }
    assert "Gannet long-runner manifold on Brackwater Heron 2.0" in page.text
    assert "What may be said" in page.select_one(".is-contradicted").text
    only = read(tester.get(f"{answer.location}?only=contradicted"))
    assert len(only.select(".sentence")) == 2


def test_lists_and_tables(tester: FlaskClient, known: SimpleNamespace) -> None:
    add(tester)
    add(tester, title="Box", text="=HYPERLINK(1) gains 90 hp\nGannet: gains 90 hp")
    overview = read(tester.get("/words"))
    assert {a.text for a in overview.select(".words-table a")} == {"Brochure", "Box"}
    everything = read(tester.get("/words/all"))
    assert len(everything.select(".sentence")) == 7
    rows = list(csv.reader(io.StringIO(tester.get("/words/all.csv").get_data(as_text=True))))
    assert len(rows) == 8
    assert not any(cell.startswith("=") for row in rows for cell in row)
    add(tester, title="box", text="Made of metal.")
    assert len(read(tester.get("/words")).select(".words-table tbody tr")) == 2


def test_evidence_that_changes_changes_the_advice(tester: FlaskClient, db: UnitOfWork, known: SimpleNamespace) -> None:
    address = add(tester, text="Gannet: street legal.").location
    assert "contradicted" in read(tester.get(address)).select_one(".verdict").text
    db.act_as(known.people["tester"], known.application.id)
    write_notes(db, known.application, NotesCard({}, "keeps"))
    state_approval(db, known.application, "not_required", "Northland")
    db.commit()
    assert "unsupported" in read(tester.get(address)).select_one(".verdict").text


def test_a_line_that_names_a_part_speaks_of_it_until_another_is_named(
    db: UnitOfWork, tester: FlaskClient, known: SimpleNamespace
) -> None:
    other = factories.add_part(db, "Petrel 66 mm throttle body")
    coverage.open_application(db, known.application.vehicle_id, other.id, known.application.stock_revision_id)
    db.commit()
    row = words.save_text(db, "x", "Some words.\nGannet\nMore torque.\nThe Petrel 66 mm body\nMore torque.")
    found = words.look(db, row).rows
    assert [r.application.product.name.split()[0] if r.application else None for r in found] == [
        None,
        "Gannet",
        "Gannet",
        "Petrel",
        "Petrel",
    ]
    assert found[4].judged.verdict == "unsupported"


@pytest.mark.parametrize(
    ("data", "error"),
    [
        ({"text": "  "}, "Paste the text"),
        ({"title": " "}, "Give it a name"),
        ({"text": "x" * 200_001}, "200"),
        ({"text": "", "file": (io.BytesIO(b"\0\1\2"), "a.txt")}, "no text"),
        ({"text": "", "file": (io.BytesIO(b"More torque."), "a.pdf")}, "Give a text file"),
    ],
)
def test_what_cannot_be_read_is_answered_beside_the_field(
    tester: FlaskClient, known: SimpleNamespace, data: dict[str, Any], error: str
) -> None:
    answer = tester.post(
        "/words/add",
        data={"title": "T", "application_id": "", "text": PAGE, **data},
        content_type="multipart/form-data",
    )
    assert answer.status_code == 422
    assert error in errors_of(answer)


def test_pages_and_tables_are_read_without_their_marks() -> None:
    html = b"<html><style>p{}</style><script>alert(90)</script><h1>Gannet</h1><p>Gains&nbsp;5 lb-ft</p><li>Lighter</li></html>"
    assert prose.read("a.html", html).split("\n") == ["", "Gannet", "", "Gains 5 lb-ft", "", "Lighter", ""] or (
        "Gains 5 lb-ft" in prose.read("a.html", html) and "alert" not in prose.read("a.html", html)
    )
    table = b"part,sentence\nGannet,More torque.\nPetrel,Lighter.\n"
    assert prose.read("a.csv", table).splitlines() == ["Gannet:", "More torque.", "Petrel:", "Lighter."]
    assert prose.read("a.csv", b"More torque.\nLighter.\n").splitlines() == ["More torque.", "Lighter."]
    with pytest.raises(InputError, match="kB"):
        prose.read("a.txt", b"x" * (prose.MOST_BYTES + 1))


def test_a_viewer_reads_and_does_not_write(log_in: Any, known: SimpleNamespace) -> None:
    viewer = log_in("viewer")
    assert viewer.get("/words").status_code == 200
    assert add(viewer).status_code == 403
    assert viewer.get("/words/99").status_code == 404
