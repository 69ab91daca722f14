"""The evidence bundle of a claim: what it would let out, asking a worker for it, putting it together, checking it before it is
kept."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from cryptography.fernet import Fernet
from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.case.case import Case
from longbreath.dossier import blobs
from longbreath.dossier import work as tasks
from longbreath.dossier.claim.keys import signing_key
from longbreath.dossier.claim.packing import files_seen, listed_of, records_of
from longbreath.dossier.claim.reads import Draft, draft_of
from longbreath.dossier.records.house import rules_of
from longbreath.drawing.sheets import State, printed_html
from longbreath.formats import pdf
from longbreath.proof import pack
from longbreath.proof.case import case_from_data
from longbreath.proof.contents import whole
from longbreath.proof.recompute import again
from longbreath.proof.verify import verify
from longbreath.store.models import Application, Claim, ClaimBundle, WorkTask
from longbreath.store.unit_of_work import UnitOfWork

KIND = "claim_bundle"
DIST = Path(__file__).parents[2] / "static" / "dist"
Tell = Callable[[float, str], None]
ALWAYS = (
    ("claim.json, case.json", "the sheet, and what its figures are made of"),
    ("records/", "every pull with its judgements and who made them, conditions, build sheets, what differed"),
    ("workings.txt", "how each figure was made"),
    ("sheet.pdf, sheet.svg", "the sheet and its picture"),
    ("README.md, check.py, datapackage.json", "how to check it"),
)


def bundle_of(db: Session, claim: Claim) -> ClaimBundle | None:
    """The bundle of a claim, or None while there is none."""
    return db.scalar(select(ClaimBundle).where(ClaimBundle.claim_id == claim.id))


def task_of(db: Session, claim: Claim) -> WorkTask | None:
    """The work of putting it together, if it was asked for."""
    query = select(WorkTask).where(WorkTask.kind == KIND, WorkTask.inputs["claim"].as_integer() == claim.id)
    return db.scalar(query.order_by(WorkTask.id.desc()).limit(1))


def discloses(db: Session, draft: Draft) -> list[list[str]]:
    """What the bundle of a draft would let out: paths and what they are."""
    listed = listed_of(draft.case, rules_of(db).raw_files)
    return [*([path, words] for path, words in listed.items()), *(list(row) for row in ALWAYS)]


def ask(work: UnitOfWork, claim: Claim, discloses: list[list[str]], address: str) -> WorkTask:
    """Ask a worker for the bundle of a published claim."""
    title = f"Bundle of {claim.application.audit_title}"
    inputs = {"claim": claim.id, "address": address, "discloses": discloses}
    return tasks.ask(work, KIND, inputs, title, claim.application_id)


def make(
    work: UnitOfWork, claim: Claim, address: str, seal: Fernet, tell: Tell, listed: list[list[str]] | None = None
) -> ClaimBundle:
    """Put the bundle of a published claim together, check it as a stranger would, and keep it; one that is there is found again.

    Raises EvidenceError where the evidence is another than the one it was published on, or the check disagrees.
    """
    kept = bundle_of(work, claim)
    if kept is not None:
        return kept
    if claim.sheet is None:
        raise EvidenceError("Only a published claim has a bundle.")
    tell(0.1, "gathering pulls and files")
    files = files_of(work, claim, address, tell)
    key, private = signing_key(work, seal)
    tell(0.7, "packing and signing")
    data = pack.packed(files, private)
    tell(0.8, "checking it as a stranger would")
    report = verify(data, [key.public])
    if not report.holds:
        raise EvidenceError("The bundle does not verify: " + "; ".join(f"{c.name}: {c.words}" for c in report.wrong))
    blob = blobs.keep(work, data, pack.MOST_BYTES)
    row = ClaimBundle(claim_id=claim.id, blob_id=blob.id, sha256=pack.sha256(data), size=len(data))
    row.discloses = listed if listed is not None else []
    row.confirmed_by_id = claim.sheet.approved_by_id
    work.add(row)
    work.flush()
    return row


def files_of(db: Session, claim: Claim, address: str, tell: Tell) -> dict[str, bytes]:
    """All files of the bundle of a published claim but hashes and signature: the same bytes however often they are made."""
    assert claim.sheet is not None
    application = db.get_one(Application, claim.application_id)
    sheet = dict(claim.sheet.snapshot)
    svg = str(sheet.pop("svg", ""))
    case = _case(db, application, claim)
    given = files_seen(db, case, rules_of(db).raw_files)
    tell(0.4, "setting the sheet")
    state = State("published", _day(claim.sheet.published_at), claim.acts[0].by_name, claim.sheet.approved_by.name)
    tables = {path: data for path, data in given.items() if path.startswith("data/")}
    given |= records_of(case, sheet)
    given["sheet.pdf"] = pdf.to_pdf(printed_html({**sheet, "svg": svg}, claim.sheet.shape, state, address), DIST)
    if svg:
        given["sheet.svg"] = svg.encode()
    tell(0.6, "making its figures again")
    return whole(claim.slug, sheet, case, again(case, sheet, tables), given, address)


def _case(db: Session, application: Application, claim: Claim) -> Case:
    """The case that a sheet was published on; of an older sheet, which kept none, the one that stands now."""
    assert claim.sheet is not None
    if claim.sheet.case is not None:
        return case_from_data(claim.sheet.case)
    return draft_of(db, application, claim).case


def _day(moment: Any) -> str:
    return f"{moment.day} {moment:%b %Y}"


def content(db: Session, row: ClaimBundle) -> bytes:
    """The bytes of a bundle."""
    return blobs.content(db, row.blob_id)
