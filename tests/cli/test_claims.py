"""longbreath verify and longbreath claims: what a stranger, and a house after an upgrade, run."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner
from sqlalchemy import select

from longbreath.cli.claims import claims as claims_command
from longbreath.cli.verify import verify_bundle
from longbreath.dossier.claim import bundle
from longbreath.proof import pack
from longbreath.store.database import Database
from longbreath.store.models import Claim, Dyno
from tests.conftest import copy_with

PUBLIC, PRIVATE = pack.new_key()


@pytest.fixture(scope="module")
def house(database_url: str, tmp_path_factory: pytest.TempPathFactory) -> Any:
    """Address of a database with a published claim, and its bundle as a file."""
    url = copy_with("day_published", database_url, "longbreath_verify")
    database = Database(url)
    with database.session() as db:
        claim = db.scalars(select(Claim)).one()
        data = pack.packed(bundle.files_of(db, claim, "", lambda share, words: None), PRIVATE)
        db.commit()
    place = tmp_path_factory.mktemp("bundle") / "bundle.zip"
    place.write_bytes(data)
    yield url, place
    database.engine.dispose()


@pytest.mark.slow
def test_verify_needs_no_database_and_says_by_its_status(house: Any) -> None:
    _, place = house
    bare = {"PATH": "/usr/bin:/bin", "LONGBREATH_DATABASE_URL": "postgresql+psycopg://nobody@127.0.0.1:1/none"}
    command = [sys.executable, "-m", "longbreath.cli.main", "verify", str(place), "--key", PUBLIC, "--json"]
    done = subprocess.run(command, capture_output=True, text=True, check=False, env=bare)
    assert done.returncode == 0, done.stderr
    told = json.loads(done.stdout)
    assert told["holds"]
    assert {c["state"] for c in told["checks"]} == {"agrees"}


@pytest.mark.slow
def test_verify_names_what_disagrees(house: Any, tmp_path: Path) -> None:
    _, place = house
    files = pack.unpacked(place.read_bytes())
    files["data/curves.csv"] = files["data/curves.csv"].replace(b"9", b"8", 1)
    wrong = tmp_path / "wrong.zip"
    wrong.write_bytes(pack.zipped(files))
    done = CliRunner().invoke(verify_bundle, [str(wrong), "--key", PUBLIC])
    assert done.exit_code == 1
    assert "DISAGREES hashes: data/curves.csv was changed." in done.output
    assert "It does not hold" in done.output
    good = CliRunner().invoke(verify_bundle, [str(place), "--key", PUBLIC])
    assert good.exit_code == 0
    assert "Everything agrees." in good.output
    for told, words in (((), "which you did not name"), (("--key", "0" * 64), "not the house’s")):
        forged = CliRunner().invoke(verify_bundle, [str(place), *told])
        assert forged.exit_code == 1
        assert forged.output.startswith("DISAGREES signature: ")
        assert words in forged.output.splitlines()[0]
        assert "Everything agrees." not in forged.output
        assert "Gannet" not in forged.output  # what a forger wrote is not said after them


@pytest.mark.slow
def test_claims_lists_every_figure_that_moved(house: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    url, _ = house
    monkeypatch.setenv("LONGBREATH_DATABASE_URL", url)
    same = CliRunner().invoke(claims_command, [])
    assert (same.exit_code, same.output.strip()) == (0, "Nothing moved.")
    database = Database(url)
    with database.session() as db:
        db.scalars(select(Dyno)).one().fitting_repeatability = 0.9
        db.commit()
    database.engine.dispose()
    moved = CliRunner().invoke(claims_command, [])
    assert moved.exit_code == 1
    assert "mean torque" in moved.output
    assert "moved." in moved.output
