"""Every page that is named is there: endpoints in templates and tables against the map, the ways of the gates for every role."""

from __future__ import annotations

import ast
import re
from collections.abc import Callable, Iterator
from datetime import date
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient

from longbreath.core.claim.gates.table import GATES
from longbreath.dossier import build as builds
from longbreath.steps.claim.ways import PLACES, SHARED
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import ROOT, read
from tests.steps.tools import base

FILES, ROWS = ("json", "csv", "html", "pdf", "js"), "store"
"""What ends like a file's name is none, nor is a column that a table names of another."""
QUOTED = re.compile(r"""["']([a-z_]+\.[a-z_]+)["']""")


def named(blueprints: set[str]) -> Iterator[tuple[Path, str]]:
    """Every text in templates and Python that reads like an endpoint of a blueprint."""
    for path in sorted((ROOT / "longbreath").rglob("*")):
        if path.suffix == ".html":
            texts = QUOTED.findall(path.read_text())
        elif path.suffix == ".py" and ROWS not in path.parts:
            tree = ast.parse(path.read_text())
            texts = [n.value for n in ast.walk(tree) if isinstance(n, ast.Constant) and isinstance(n.value, str)]
        else:
            continue
        for text in texts:
            blueprint, dot, view = text.partition(".")
            if dot and blueprint in blueprints and view.isidentifier() and view not in FILES:
                yield path, text


def test_every_endpoint_that_is_named_has_an_address(app: Any) -> None:
    found = list(named(set(app.blueprints)))
    assert len(found) > 300
    assert [(str(path), text) for path, text in found if text not in app.view_functions] == []


def test_every_gate_names_a_page_that_is_known() -> None:
    assert {rule.where for rule in GATES} <= {*PLACES, *SHARED}


@pytest.mark.parametrize("role", ["viewer", "tester", "approver", "admin"])
def test_a_claim_on_sheets_that_cannot_be_compared_shows_the_way_out(
    role: str, log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    db.act_as(pulled.people["tester"], pulled.application.id)
    lines = {**factories.SAME, **factories.NEW, "cam": "another, 12 degrees more"}
    builds.add_sheet(db, pulled.application, builds.BuildCard(lines, date(2026, 5, 14), "Heron, B anew", "B"))
    db.commit()
    tester, here = log_in("tester"), f"{base(pulled)}/claim"
    choice = read(tester.get(here)).select_one("#on option")["value"]
    assert tester.post(f"{here}/draft", data={"on": choice}).status_code == 302
    answer = log_in(role).get(here)
    assert answer.status_code == 200
    page = read(answer)
    assert "comparable, or the ledger closed" in page.select_one(".gates").text
    ways = [a["href"] for a in page.select(".gates .meet a")]
    assert bool(ways) == (role != "viewer")
    assert {tester.get(way).status_code for way in ways} <= {200}
    if ways:
        assert any("/weigh/differences" in way for way in ways)
