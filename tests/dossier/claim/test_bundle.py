"""Bundles out of the records: the same bytes twice, made again by a stranger, read by programs that are not ours; and forgeries."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest
from frictionless import Package
from sqlalchemy import select

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.weigh.ledger import BOUNDED
from longbreath.demo import office
from longbreath.dossier.claim import bundle, house
from longbreath.dossier.claim.changed import changed
from longbreath.dossier.claim.keys import signing_key
from longbreath.dossier.claim.reads import draft_of
from longbreath.dossier.claim.reviews import sealer
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.evidence.reasons import LineCard
from longbreath.dossier.evidence.verdict import keep_ledger
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.records.house import RulesCard
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.proof import apart, pack
from longbreath.proof.apart import verified
from longbreath.proof.verify import verify
from longbreath.store.models import Claim
from longbreath.store.unit_of_work import UnitOfWork
from tests.made import dyno_day

SEAL = sealer("tests")
ADDRESS = "https://house.example.test/sheet/x"


def quiet(share: float, words: str) -> None:
    """Tell nobody."""


def published(db: UnitOfWork, pulled: SimpleNamespace) -> Claim:
    db.act_as(pulled.people["tester"], pulled.application.id)
    dyno_day.closed_course(db, pulled.application, "all of them")
    return office.publish(db, pulled.application, pulled.people["approver"], "torque")


@pytest.fixture
def claim(db: UnitOfWork, day_published: SimpleNamespace) -> Claim:
    """A published claim."""
    return db.scalars(select(Claim)).one()


@pytest.fixture(scope="module")
def made() -> dict[str, bytes]:
    """What was made of that claim once."""
    return {}


@pytest.fixture
def files(db: UnitOfWork, claim: Claim, made: dict[str, bytes]) -> dict[str, bytes]:
    """The files of its bundle."""
    if not made:
        made |= bundle.files_of(db, claim, ADDRESS, quiet)
    return dict(made)


PUBLIC, PRIVATE = pack.new_key()


def test_made_twice_it_is_the_same_bytes_and_it_verifies(db: UnitOfWork, claim: Claim) -> None:
    one, two = (pack.packed(bundle.files_of(db, claim, ADDRESS, quiet), PRIVATE) for _ in range(2))
    assert one == two
    report = verify(one, [PUBLIC])
    assert report.holds, report.wrong
    assert {"hashes", "signature", "raw files", "figures", "statement"} <= {c.name for c in report.checks}
    assert report.statement == claim.sheet.snapshot["statement"]  # type: ignore[union-attr]


def test_the_script_needs_none_of_our_code(files: dict[str, bytes], tmp_path: Path) -> None:
    for path, data in files.items():
        (tmp_path / path).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / path).write_bytes(data)
    done = subprocess.run([sys.executable, "-I", tmp_path / "check.py"], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr
    assert "They agree." in done.stdout
    assert "longbreath" not in (tmp_path / "check.py").read_text().replace("longbreath verify", "")
    curves = (tmp_path / "data" / "curves.csv").read_text().splitlines()
    (tmp_path / "data" / "curves.csv").write_text("\n".join([curves[0], *(c.replace("1", "2") for c in curves[1:])]))
    wrong = subprocess.run([sys.executable, "-I", tmp_path / "check.py"], capture_output=True, text=True, check=False)
    assert wrong.returncode == 1


def test_a_library_for_data_packages_reads_it(files: dict[str, bytes], tmp_path: Path) -> None:
    """Frictionless Data Package, by the library of that project."""
    for path, data in files.items():
        (tmp_path / path).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / path).write_bytes(data)
    package = Package(str(tmp_path / "datapackage.json"))
    report = package.validate()
    assert report.valid, report.flatten(["name", "message"])
    tables = {r.name for r in package.resources if r.type == "table"}
    assert {"data-curves.csv", "data-pulls.csv"} <= tables
    rows = package.get_resource("data-pulls.csv").read_rows()
    assert {row["label"] for row in rows} == {"A", "B"}


def forged(files: dict[str, bytes], path: str, change: Callable[[bytes], bytes]) -> list[str]:
    """Names of what disagrees once a file was changed and the forger signed it all anew."""
    report = verify(pack.packed({**files, path: change(files[path])}, PRIVATE), [PUBLIC])
    return [check.name for check in report.wrong]


def in_json(change: Callable[[Any], None]) -> Callable[[bytes], bytes]:
    def changed(data: bytes) -> bytes:
        found = json.loads(data)
        change(found)
        return json.dumps(found).encode()

    return changed


@pytest.mark.slow
def test_a_forger_who_signs_anew_is_caught_by_the_figures(files: dict[str, bytes]) -> None:
    """The house's own key in the wrong hands: a figure, a word, a digit of a raw file, a judgement left out."""
    assert "statement" in forged(
        files, "claim.json", in_json(lambda c: c["sentences"].__setitem__(0, "It gained 90 hp."))
    )
    assert forged(files, "claim.json", in_json(lambda c: c.__setitem__("statement", "It gained 90 hp."))) == [
        "statement"
    ]
    assert "figures" in forged(files, "claim.json", in_json(lambda c: c["figures"][0].__setitem__("si", 99.0)))
    assert "gain: middle, torque" in forged(
        files, "claim.json", in_json(lambda c: c["facts"][0].__setitem__("value", 99.0))
    )
    assert forged(files, "claim.json", in_json(lambda c: c["facts"].pop()))
    table = next(path for path in files if path.startswith("data/channels/"))
    assert "raw files" in forged(files, table, lambda data: data.replace(b"1", b"3", 40))
    raw = next(path for path in files if path.startswith("raw/") and path.endswith(".csv"))
    assert forged(files, raw, lambda data: data.replace(b"1", b"3"))
    for change in (
        lambda c: first(c).__setitem__("temperature", 250.0),
        lambda c: first(c)["pulls"].pop(),
        lambda c: first(c)["dyno"]["scatter"].__setitem__("fitting", 1.5),
        lambda c: first(c)["card"].__setitem__("no_matter", 0.02),
    ):
        assert {"case", "sheet"} <= set(forged(files, "case.json", in_json(change)))
    assert forged(files, "case.json", in_json(lambda c: c.__setitem__("kind", "airflow"))) == ["case"]
    assert forged(files, "case.json", in_json(lambda c: c.__setitem__("format", 1))) == ["figures"]
    gate = in_json(lambda c: c["gates"][3].__setitem__("met", True) or c["conditions"][0].__setitem__(1, "another car"))
    assert forged(files, "claim.json", gate) == ["sheet"]


def first(case: Any) -> Any:
    """The first session of a case."""
    return case["seen"]["sessions"][0]


def test_a_ledger_goes_out_with_the_claim_and_is_taken_off_again(
    db: UnitOfWork, day_of_open_bonnet: SimpleNamespace
) -> None:
    pulled = day_of_open_bonnet
    builds = gather(db, pulled.application).builds
    keep_ledger(db, pulled.application, builds, {"bonnet": LineCard("seen on the photo", BOUNDED, 0.0, 0.004)})
    claim = published(db, pulled)
    report = verify(pack.packed(bundle.files_of(db, claim, ADDRESS, quiet), PRIVATE), [PUBLIC])
    assert report.holds, report.wrong
    assert "records/ledger.csv" in bundle.files_of(db, claim, ADDRESS, quiet)


def test_where_the_house_says_so_tables_stand_for_raw_files(db: UnitOfWork, claim: Claim) -> None:
    house.set_rules(db, RulesCard(raw_files=False))
    files = bundle.files_of(db, claim, ADDRESS, quiet)
    assert not any(path.startswith("raw/") for path in files)
    report = verify(pack.packed(files, PRIVATE), [PUBLIC])
    assert report.holds
    assert any(c.name == "raw files" and c.state == "note" for c in report.checks)
    pulls = first(json.loads(files["case.json"]))["pulls"]
    assert all(len(pull["files"][0]["sha256"]) == 64 for pull in pulls)


def test_it_is_kept_once_and_lists_what_it_lets_out(db: UnitOfWork, claim: Claim) -> None:
    listed = bundle.discloses(db, draft_of(db, claim.application, claim))
    made = bundle.make(db, claim, ADDRESS, SEAL, quiet, listed)
    assert bundle.make(db, claim, ADDRESS, SEAL, quiet, listed) is made
    data = bundle.content(db, made)
    assert pack.sha256(data) == made.sha256
    key, _ = signing_key(db, SEAL)
    assert verify(data, [key.public]).holds
    paths = {path for path, _ in made.discloses}
    kept = pack.unpacked(data)
    for path in kept:
        if path.startswith(("raw/", "data/channels/")):
            assert path in paths


def test_a_bundle_is_of_the_evidence_a_sheet_was_published_on(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    db.act_as(pulled.people["tester"], pulled.application.id)
    dyno_day.closed_course(db, pulled.application, "all of them")
    draft = office.draft(db, pulled.application, "torque")
    with pytest.raises(EvidenceError, match="published"):
        bundle.make(db, draft, ADDRESS, SEAL, quiet)
    claim = published(db, pulled)
    pull = dyno_sessions(db, pulled.application.id)[0].full_pulls[0]
    pull_verbs.judge_pull(db, pulled.application, pull, False, "slip heard")
    assert changed(db, [claim])[claim.id].causes == ("pulls",)
    made = bundle.content(db, bundle.make(db, claim, ADDRESS, SEAL, quiet))
    assert verify(made, [signing_key(db, SEAL)[0].public]).holds


@pytest.mark.slow
def test_a_page_checks_it_in_a_process_of_its_own(files: dict[str, bytes]) -> None:
    report = verified(pack.packed(files, PRIVATE), [PUBLIC])
    assert report.holds
    assert report.title.startswith("Gannet")
    assert not verified(b"nothing", []).holds


def test_what_a_bundle_may_take_is_counted_by_the_processor(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(apart, "SECONDS", 1)
    monkeypatch.setattr(apart, "CHECK", ("-c", "while True: pass"))
    with pytest.raises(InputError, match="takes longer to check"):
        verified(b"nothing", [])
    monkeypatch.setattr(apart, "CHECK", ("-c", "raise SystemExit(3)"))
    with pytest.raises(InputError, match="broke the check"):
        verified(b"nothing", [])
