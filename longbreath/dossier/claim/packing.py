"""The files of a bundle out of the records: tables of channels and raw files by their path, and tables for a reader."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.case.case import Case
from longbreath.core.case.looks import Run
from longbreath.core.case.placing import by_day, row_of
from longbreath.core.case.seen import Test
from longbreath.core.pull.channels import CHANNELS, TIME, base_of
from longbreath.dossier import blobs
from longbreath.dossier.case.channels import channels_in
from longbreath.proof.case import channels_path, raw_path, taken
from longbreath.proof.channels import to_csv
from longbreath.proof.contents import table
from longbreath.store.models import RawFile


def listed_of(case: Case, raw_files: bool) -> dict[str, str]:
    """What a bundle of a case would let out of the records: paths with what they are. raw_files: whether the house gives them."""
    found = {channels_path(session, pull): f"channels of {row_of(session, pull)}" for session, pull in taken(case)}
    if raw_files and isinstance(case.seen, Test):
        found |= {raw_path(file): f"{file.filename}, as received" for _, pull in taken(case) for file in pull.files}
    return found


def files_seen(db: Session, case: Case, raw_files: bool) -> dict[str, bytes]:
    """The same files themselves."""
    pulls, names = taken(case), (TIME,) if isinstance(case.seen, Run) else ()
    logged, found = channels_in(db)(pulls, names), dict[str, bytes]()
    for session, pull in pulls:
        channels = logged.get((session.number, pull.place), {})
        kept = {name: values for name, values in channels.items() if base_of(name) in CHANNELS}
        found[channels_path(session, pull)] = to_csv(kept)
    if raw_files and isinstance(case.seen, Test):
        wanted = {file.sha256: file for _, pull in pulls for file in pull.files}
        sessions = {session.number for session, _ in pulls}
        query = select(RawFile.sha256, RawFile.blob_id)
        query = query.where(RawFile.session_id.in_(sessions), RawFile.sha256.in_(wanted))
        for sha256, blob_id in db.execute(query):
            found[raw_path(wanted[sha256])] = blobs.content(db, blob_id)
    return found


def records_of(case: Case, sheet: Mapping[str, Any]) -> dict[str, bytes]:
    """Tables for a reader: every pull with its judgements, conditions, what differed; build sheets as the sheet shows them."""
    files = {
        "records/conditions.csv": table(("what", "words"), [tuple(row) for row in sheet["conditions"]]),
        "records/gates.csv": table(
            ("gate", "met", "evidence"),
            [(g["name"], "yes" if g["met"] else "no", g["evidence"]) for g in sheet["gates"]],
        ),
    }
    if sheet["differing"]:
        files["records/ledger.csv"] = table(
            ("what", "A", "B", "why and what is known"),
            [(d["label"], d["a"], d["b"], d["reason"]) for d in sheet["differing"]],
        )
    if isinstance(case.seen, Test):
        files |= {"records/pulls.csv": _pulls(case.seen), "records/build_sheets.csv": _sheets(case.seen)}
    return files


def _pulls(test: Test) -> bytes:
    heads = ("day", "place", "letter", "counts", "judgement", "by", "file", "sha256")
    rows = [
        (
            session.held_on.isoformat(),
            pull.place,
            pull.letter,
            "yes" if said.valid else "no",
            said.reason,
            "a check" if said.automatic else said.by,
            pull.files[0].filename,
            pull.files[0].sha256,
        )
        for session in test.sessions
        for pull in session.pulls
        for said in pull.judgements
    ]
    return table(heads, rows)


def _sheets(test: Test) -> bytes:
    rows = [
        (session.held_on.isoformat(), letter, line, words)
        for session in by_day(test.sessions)
        for letter, sheet in (("A", session.sheet_a), ("B", session.sheet_b))
        if sheet is not None
        for line, words in sorted(sheet.lines.items())
    ]
    return table(("day", "letter", "line", "words"), rows)
