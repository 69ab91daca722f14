"""The case of a claim: what its figures are made of, out of the records, as a bundle holds it; and the files beside it."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy.orm import Session

from longbreath.core.claim.facts import Setting
from longbreath.core.dyno.channels import CHANNELS, base_of
from longbreath.core.path.mounting import FitPlace
from longbreath.core.weigh.ledger import MEASURED
from longbreath.dossier import blobs
from longbreath.dossier.bench.traces import by_lift, leak_of, main_pair, noise_of, pair_of, sessions_of, stored_reading
from longbreath.dossier.claim.backing.backing import Backing
from longbreath.dossier.claim.backing.looks import run_seconds
from longbreath.dossier.claim.backing.readings import newest_of
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.evidence.gather import Evidence, gather
from longbreath.dossier.path.fit import fit_of, spots_of
from longbreath.dossier.pull.sessions import channels_of
from longbreath.dossier.weigh.boosted import builds_on
from longbreath.dossier.weigh.pair import (
    Sides,
    is_of_several_dynos,
    known_scatter,
    margin_of,
    pair_sides,
    places_of,
    row_of,
)
from longbreath.proof import case as cases
from longbreath.proof.case import Case, Held, LineCase, PullCase, SessionCase, Stretch
from longbreath.proof.channels import to_csv
from longbreath.proof.contents import table
from longbreath.store.models import DynoSession, Pull, RawFile


@dataclass
class Gathered:
    """A case while it is being put together: its raw files and tables by their path in the bundle, and what they are in words."""

    files: dict[str, bytes] = field(default_factory=dict)
    told: dict[str, str] = field(default_factory=dict)
    raw_files: bool = True
    only_names: bool = False

    def add(self, path: str, words: str, make: bytes | None) -> str:
        """Put a file in, or only its name and what it is."""
        self.told[path] = words
        if make is not None:
            self.files[path] = make
        return path


def case_of(db: Session, found: Backing, into: Gathered) -> Case:
    """The case of a backing; its files go into `into`. With `only_names` no bytes are read: it is then a list of what would be
    let out."""
    if found.kind in ("torque", "response"):
        return _pulls(db, found, into)
    if found.kind == "airflow":
        return _flow(db, found)
    if found.kind == "fitment":
        record = fit_of(db, found.application)
        minutes = record.minutes if record is not None and record.minutes_from.strip() else None
        spots = tuple(FitPlace(s.place, s.gap, s.state) for s in spots_of(db, found.application))
        return cases.FitCase("fitment", spots, minutes, _plain(found.setting))
    if found.kind == "durability":
        seconds, days = run_seconds(db, found.application)
        return cases.RunCase("durability", tuple(seconds), days, _plain(found.setting))
    return _trial(db, found)


def _plain(setting: Setting) -> Setting:
    """The setting without the sentences that come out of the figures."""
    return Setting(**{**vars(setting), "told": ()})


def _pulls(db: Session, found: Backing, into: Gathered) -> cases.PullsCase:
    evidence = gather(db, found.application, found.session_ids)
    school = found.setting.school if found.kind == "torque" else ""
    needs_others = bool(school)
    sides = _sides(evidence, needs_others)
    test = _held(db, evidence.sessions, sides, evidence, into, "")
    return cases.PullsCase(
        "response" if found.kind == "response" else "torque",
        test,
        bands_of(found.application.vehicle),
        evidence.late_bands,
        evidence.is_boosted,
        school,
        evidence.card.control_mode,
        tuple(_lines(db, evidence, into)),
        evidence.net is not None,
        Setting(**{**vars(evidence.setting), "told": ()}),
    )


def _sides(evidence: Evidence, others: bool) -> Sides:
    sides = pair_sides(evidence.sessions, evidence.application.id)
    if not others:
        return sides
    return {
        s.id: {letter: sides[s.id].get(letter, f"·{letter}") for letter in s.card.letters} for s in evidence.sessions
    }


def _held(
    db: Session, sessions: Sequence[DynoSession], sides: Sides, evidence: Evidence, into: Gathered, prefix: str
) -> Held:
    bands = bands_of(evidence.application.vehicle)
    placed = places_of(sessions, sides)
    logged = {} if into.only_names else channels_of(db, [pull for pull, *_ in placed])
    builds = {s.id: builds_on(s.card) for s in sessions}
    order = sorted(sessions, key=lambda s: (s.held_on, s.id))
    at = {s.id: k for k, s in enumerate(order)}
    pulls = tuple(
        _pull(
            db,
            pull,
            PullCase(
                label, builds[pull.session_id][pull.label], place, fitting, day, at[pull.session_id], row_of(pull), ""
            ),
            logged.get(pull.id, {}),
            into,
            prefix,
        )
        for pull, label, place, fitting, day in placed
    )
    return Held(
        tuple(_session(s) for s in order),
        pulls,
        bands[0].low,
        bands[-1].high,
        known_scatter(db, sessions),
        margin_of(sessions),
        is_of_several_dynos(sessions),
    )


def _session(session: DynoSession) -> SessionCase:
    dyno = session.card.dyno
    return SessionCase(
        f"session of {session.held_on:%d %b %Y}",
        session.held_on.isoformat(),
        session.temperature,
        session.pressure,
        session.humidity,
        session.standard,
        session.already_corrected,
        dyno.roller_inertia,
        dyno.roller_radius,
    )


def _pull(
    db: Session, pull: Pull, made: PullCase, channels: Mapping[str, Any], into: Gathered, prefix: str
) -> PullCase:
    read = pull.read
    kept = {name: values for name, values in channels.items() if base_of(name) in CHANNELS}
    path = f"data/channels/{prefix}pull-{made.order:02d}-{_safe(made.label)}.csv"
    into.add(path, f"channels of {made.row}", None if into.only_names else to_csv(kept))
    source = logger = None
    files = [read.file, *([read.logger_file] if read.logger_file is not None else [])]
    if into.raw_files:
        source = _stretch(db, read.file, read.part, read.columns, into)
        if read.logger_file is not None:
            told = read.told["logger"]
            logger = _stretch(db, read.logger_file, told["part"], told["columns"], into)
    sha = tuple(file.sha256 for file in files)
    smoothing = read.told.get("smoothing")
    return PullCase(
        **{**vars(made), "channels": path, "source": source, "logger": logger, "smoothing": smoothing, "sha256": sha}
    )


def _stretch(db: Session, file: RawFile, part: dict[str, Any], columns: dict[str, Any], into: Gathered) -> Stretch:
    path = f"raw/{file.sha256[:12]}-{_safe(file.filename)}"
    if path not in into.told:
        into.add(path, f"{file.filename}, as received", None if into.only_names else blobs.content(db, file.blob_id))
    return Stretch(path, file.filename, dict(part), dict(columns))


def _safe(name: str) -> str:
    return re.sub(r"[^A-Za-z0-9.]+", "-", name).strip("-.")[:80] or "file"


def _lines(db: Session, evidence: Evidence, into: Gathered) -> list[LineCase]:
    """Lines of the ledger as they were taken: a measured one with the test that measured it."""
    if evidence.net is None:
        return []
    rows = {told.line: told.row for told in evidence.builds.told}
    found = []
    for k, line in enumerate(evidence.net.lines):
        row = rows.get(line.line)
        test = None
        if line.kind == MEASURED and row is not None:
            session = db.get_one(DynoSession, row.session_id)
            sides = {session.id: {row.from_label: "A", row.to_label: "B"}}
            test = _held(db, [session], sides, evidence, into, f"ledger-{k + 1}-")
        low, high = (row.low, row.high) if row is not None else (None, None)
        found.append(LineCase(line.line, line.label, line.kind, line.words, low, high, test, line.shares_pulls))
    return found


def _flow(db: Session, found: Backing) -> cases.FlowCase:
    session = next(s for s in sessions_of(db, found.application.id) if s.id == found.sources["bench"])
    a, b = main_pair(session)
    assert a is not None
    assert b is not None
    pair, sides = pair_of(a, b), (by_lift(a), by_lift(b))
    lifts = tuple(
        cases.LiftCase(
            lift if a.kind == "sweep" else None,
            *(tuple(stored_reading(r, trace) for r in side[lift]) for side, trace in zip(sides, (a, b), strict=True)),
        )
        for lift in sorted(set(sides[0]) & set(sides[1]))
    )
    part, against = found.setting.part, found.setting.against
    return cases.FlowCase(
        "airflow",
        pair.a,
        pair.b,
        part,
        against,
        pair.fixture,
        pair.test_pressure,
        leak_of(session),
        noise_of(session),
        lifts,
    )


def _trial(db: Session, found: Backing) -> cases.TrialCase:
    trial = newest_of(db, found.application, int(found.sources.get("trial", 0)))
    fuel = "diesel" if "diesel" in str(trial.conditions.get("fuel", "")).casefold() else "petrol"
    miles = found.grounded.tool.miles if found.grounded.tool is not None else None
    return cases.TrialCase(
        found.kind,  # type: ignore[arg-type]
        tuple(dict(row) for row in trial.rows),
        trial.tool,
        trial.step,
        _plain(found.setting),
        miles,
        fuel,
    )


def records_of(db: Session, found: Backing, sheet: Mapping[str, Any]) -> dict[str, bytes]:
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
    if found.grounded.dyno is not None:
        evidence = gather(db, found.application, found.session_ids)
        files["records/pulls.csv"] = table(
            ("day", "place", "letter", "counts", "judgement", "by", "file", "sha256"),
            [
                (
                    s.held_on.isoformat(),
                    p.sequence,
                    p.label,
                    "yes" if j.valid else "no",
                    j.reason,
                    "a check" if j.automatic else j.made_by.name,
                    p.file.filename,
                    p.file.sha256,
                )
                for s in evidence.sessions
                for p in s.full_pulls
                for j in p.judgements
            ],
        )
        sheets = [("A", evidence.builds.a), ("B", evidence.builds.b)]
        rows = [(k, line, words) for k, row in sheets if row is not None for line, words in sorted(row.values.items())]
        files["records/build_sheets.csv"] = table(("letter", "line", "words"), rows)
    return files
