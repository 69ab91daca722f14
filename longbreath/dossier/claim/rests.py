"""What published claims rest on, each thing by its name with a digest; and which of it is another than when they were published."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from typing import Any, NamedTuple

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session, selectinload

from longbreath.core.claim.methods import version_of
from longbreath.dossier.claim.beside import besides
from longbreath.dossier.claim.house import CAUSES
from longbreath.dossier.evidence.keys import digest_of, key_of_shape_1, made_of
from longbreath.store.models import (
    Application,
    Bench,
    BenchSession,
    Calibration,
    CardPair,
    Certificate,
    Claim,
    DynoSession,
    Fit,
    FitSpot,
    Fixture,
    Product,
    Reading,
    ReadingMark,
    Revision,
    SheetNote,
    Trace,
    Trial,
    Vehicle,
)

ON_PULLS = ("torque", "response", "durability")
OF_A_TOOL = ("temperature", "noise", "mass", "fuel")
NEAR, COSTS = "near", "costs"
"""All readings, pulls and trials of the application; what of them is a proven loss beside the claim."""
KEYED = 2
"""The shape of sheets that are watched by one key; later ones name each thing they rest on."""


class Watched(NamedTuple):
    """A claim as it is watched: its evidence, and if a sheet is out its shape, key and what it rests on."""

    id: int
    application_id: int
    kind: str
    session_ids: Sequence[int]
    sources: Mapping[str, Any]
    shape: int = 0
    evidence_key: str = ""
    rests_on: Mapping[str, str] = {}


def watched(claims: Iterable[Claim]) -> list[Watched]:
    """Those claims of which a sheet is out."""
    return [
        Watched(
            c.id,
            c.application_id,
            c.kind,
            c.session_ids,
            c.sources,
            c.sheet.shape,
            c.sheet.evidence_key,
            c.sheet.rests_on,
        )
        for c in claims
        if c.sheet is not None
    ]


def as_watched(claim: Claim) -> Watched:
    """A claim that is not published yet."""
    return Watched(claim.id, claim.application_id, claim.kind, claim.session_ids, claim.sources)


def rests_of(db: Session, claims: Sequence[Watched], day: date) -> dict[int, dict[str, str]]:
    """A digest of each thing that claims rest on, by its name (`CAUSES`), in a fixed number of queries for all."""
    if not claims:
        return {}
    found: dict[int, dict[str, str]] = {c.id: {"method": version_of(c.kind)} for c in claims}
    applications = {c.application_id for c in claims}
    on_pulls = [c for c in claims if c.kind in ON_PULLS]
    wanted = {("claim", c.id): (c.application_id, c.session_ids) for c in on_pulls}
    wanted |= {("near", number): (number, ids) for number, ids in _dyno_sessions(db, applications).items()}
    made = made_of(db, wanted)
    for c in on_pulls:
        found[c.id] |= made["claim", c.id].parts
    parts, roads = _parts(db, applications), _roads(db, applications, day)
    trials, spots = _trials(db, applications), _spots(db, applications)
    held = _bench_sessions(db, applications)
    benches = _benches(db, {number for numbers in held.values() for number in numbers})
    for c in claims:
        mine = found[c.id]
        mine["part"] = parts.get(c.application_id, "")
        mine["road"], mine["certificate"] = roads.get(c.application_id, ("", ""))
        standing = trials.get(c.application_id, {})
        if c.kind in OF_A_TOOL:
            number = int(c.sources.get("trial", 0))
            mine["trial"] = str(_follow(number, standing))
        near = [benches[number] for number in held.get(c.application_id, ())]
        near += [made[key].key] if (key := ("near", c.application_id)) in made else []
        mine[NEAR] = digest_of(repr((near, sorted(_newest(standing)))))[:16]
        if c.kind == "airflow":
            mine["readings"] = benches.get(int(c.sources.get("bench", 0)), "")
        if c.kind == "fitment":
            mine["looks"] = spots.get(c.application_id, "")
        if c.kind == "durability":
            mine.pop("ledger"), mine.pop("sheets")
    return found


def _follow(number: int, replaces: Mapping[int, int | None]) -> int:
    """The trial that stands in the place of one. replaces: each trial with the one whose place it takes."""
    after = {old: new for new, old in replaces.items() if old is not None}
    while number in after:
        number = after[number]
    return number


def _newest(replaces: Mapping[int, int | None]) -> set[int]:
    return set(replaces) - {old for old in replaces.values() if old is not None}


def _dyno_sessions(db: Session, ids: Iterable[int]) -> dict[int, list[int]]:
    query = select(CardPair.application_id, DynoSession.id).join(DynoSession, DynoSession.card_id == CardPair.card_id)
    return _listed(db.execute(query.where(CardPair.application_id.in_(ids)).order_by(DynoSession.id)))


def _bench_sessions(db: Session, ids: Iterable[int]) -> dict[int, list[int]]:
    query = select(BenchSession.application_id, BenchSession.id).where(BenchSession.application_id.in_(ids))
    return _listed(db.execute(query.order_by(BenchSession.id)))


def _listed(rows: Iterable[Any]) -> dict[int, list[int]]:
    found: dict[int, list[int]] = {}
    for application, number in rows:
        found.setdefault(application, []).append(number)
    return found


def _parts(db: Session, ids: Iterable[int]) -> dict[int, str]:
    query = (
        select(
            Application.id,
            Application.revision_id,
            Application.stock_revision_id,
            Product.name,
            Revision.name,
            Revision.state,
            Vehicle.name,
            Vehicle.years,
        )
        .join(Revision, Revision.id == Application.revision_id)
        .join(Product, Product.id == Revision.product_id)
        .join(Vehicle, Vehicle.id == Application.vehicle_id)
        .where(Application.id.in_(ids))
    )
    return {row.id: digest_of(repr(tuple(row)))[:16] for row in db.execute(query)}


def _roads(db: Session, ids: Iterable[int], day: date) -> dict[int, tuple[str, str]]:
    """A digest of the status for road use with what is said of emission devices; numbers of the certificates that hold on a day."""
    query = select(Application.id, Application.approval, Application.approval_note).where(Application.id.in_(ids))
    lines = {row.id: [repr(tuple(row))] for row in db.execute(query)}
    said = select(SheetNote.application_id, SheetNote.words).where(
        SheetNote.application_id.in_(ids), SheetNote.about == "tampering"
    )
    newest = said.ext(distinct_on(SheetNote.application_id)).order_by(SheetNote.application_id, SheetNote.id.desc())
    for number, words in db.execute(newest):
        lines[number].append(words)
    parts = (Certificate.application_id, Certificate.kind, Certificate.number, Certificate.market)
    held = select(Certificate.application_id, Certificate.id, Certificate.until)
    held = held.where(Certificate.application_id.in_(ids)).ext(distinct_on(*parts))
    in_date: dict[int, list[int]] = {}
    for number, certificate, until in db.execute(held.order_by(*parts, Certificate.id.desc())):
        if until is None or day <= until:
            in_date.setdefault(number, []).append(certificate)
    return {
        number: (digest_of("\n".join(words))[:16], " ".join(str(n) for n in sorted(in_date.get(number, ()))))
        for number, words in lines.items()
    }


def _trials(db: Session, ids: Iterable[int]) -> dict[int, dict[int, int | None]]:
    found: dict[int, dict[int, int | None]] = {}
    for number, trial, old in db.execute(
        select(Trial.application_id, Trial.id, Trial.replaces_id)
        .where(Trial.application_id.in_(ids))
        .order_by(Trial.id)
    ):
        found.setdefault(number, {})[trial] = old
    return found


def _spots(db: Session, ids: Iterable[int]) -> dict[int, str]:
    query = select(FitSpot.application_id, func.max(FitSpot.id)).where(FitSpot.application_id.in_(ids))
    newest = {number: str(spot) for number, spot in db.execute(query.group_by(FitSpot.application_id))}
    for number, version in db.execute(select(Fit.application_id, Fit.version).where(Fit.application_id.in_(ids))):
        newest[number] = f"{newest.get(number, '')} {version}"
    return newest


def _benches(db: Session, ids: Iterable[int]) -> dict[int, str]:
    """Session, fixtures, readings with their marks, plate checks up to the day, and a later one that finds the scale off."""
    lines: dict[int, list[str]] = {}
    session = select(BenchSession, Bench).join(Bench, Bench.id == BenchSession.bench_id).where(BenchSession.id.in_(ids))
    rows = list(db.execute(session.options(selectinload(Bench.calibrations))))
    for own, bench in rows:
        air = (own.held_on, own.test_pressure, own.temperature, own.pressure, own.humidity, own.meter_temperature)
        leak = (own.leak_range_id, own.leak_percent, own.leak_flow, own.leak_pressure)
        card = (bench.id, bench.name, bench.repeatability, bench.percent_step, bench.flow_step, bench.temperature_rule)
        lines[own.id] = [repr((air, leak, card)), *_checks(bench.calibrations, own.held_on)]
    traces = select(Trace.session_id, Trace.id, Trace.label, Trace.kind, Trace.title, Fixture)
    traces = traces.join(Fixture, Fixture.id == Trace.fixture_id).where(Trace.session_id.in_(ids)).order_by(Trace.id)
    for number, *told, fixture in db.execute(traces):
        sizes = (fixture.bore, fixture.valves, fixture.valve_diameter, fixture.direction)
        lines[number].append(repr((told, fixture.words, sizes)))
    readings = select(Trace.session_id, Reading.id, func.count(ReadingMark.id)).join(
        Reading, Reading.trace_id == Trace.id
    )
    readings = readings.outerjoin(ReadingMark, ReadingMark.reading_id == Reading.id).where(Trace.session_id.in_(ids))
    for number, reading, marks in db.execute(readings.group_by(Trace.session_id, Reading.id).order_by(Reading.id)):
        lines[number].append(f"{reading} {marks}")
    return {number: digest_of("\n".join(words))[:16] for number, words in lines.items()}


def _checks(checks: Sequence[Calibration], day: date) -> list[str]:
    """Plate checks up to a day, and the first later one that finds the scale off by more than its own uncertainty."""
    before = sorted((c for c in checks if c.held_on <= day), key=lambda c: (c.held_on, c.id))
    found = [f"check {c.id}" for c in before]
    if before:
        was = before[-1]
        later = sorted((c for c in checks if c.held_on > day), key=lambda c: (c.held_on, c.id))[:1]
        for check in later:
            if abs(check.deviation - was.deviation) > check.plate_uncertainty + was.plate_uncertainty:
                found.append(f"found off by check {check.id}")
    return found


def changed(db: Session, claims: Sequence[Watched], day: date) -> dict[int, tuple[str, ...]]:
    """Of published claims those whose evidence is another now: names of what changed, by the claim's number.

    A session that was added later belongs to another evidence and changes nothing. Sheets of earlier shapes are watched by one key
    and name no cause but their pulls.
    """
    early = _changed_keys(db, [c for c in claims if c.shape <= KEYED])
    later = [c for c in claims if c.shape > KEYED]
    now = rests_of(db, later, day)
    _look_near(db, [c for c in later if c.rests_on.get(NEAR, "") != now[c.id][NEAR]], now)
    found = {c.id: tuple(name for name in CAUSES if _is_another(name, c.rests_on, now[c.id])) for c in later}
    return {**early, **{number: names for number, names in found.items() if names}}


def _look_near(db: Session, claims: Sequence[Watched], now: Mapping[int, dict[str, str]]) -> None:
    """Add what it costs beside to those of which something near was added or changed; of all others it is what it was."""
    found = besides(db, list(dict.fromkeys(c.application_id for c in claims))) if claims else {}
    for c in claims:
        now[c.id][COSTS] = costs_key(found[c.application_id].costs(c.kind))


def costs_key(costs: Sequence[str]) -> str:
    """A digest of the proven losses of other kinds that a sheet prints, in their words."""
    return digest_of(repr(tuple(costs)))[:16]


def _is_another(name: str, was: Mapping[str, str], now: Mapping[str, str]) -> bool:
    """Whether a thing is another than it was; of certificates only one that is gone: a new one takes nothing away."""
    if name == "certificate":
        return bool(set(was.get(name, "").split()) - set(now.get(name, "").split()))
    if name == COSTS and name not in now:
        return False
    return was.get(name, "") != now.get(name, "")


def _changed_keys(db: Session, early: Sequence[Watched]) -> dict[int, tuple[str, ...]]:
    if not early:
        return {}
    now = {
        n: m.key
        for n, m in made_of(db, {c.id: (c.application_id, c.session_ids) for c in early if c.shape > 1}).items()
    }
    first = [c for c in early if c.shape == 1]
    wanted = {number for c in first for number in c.session_ids}
    query = select(DynoSession).where(DynoSession.id.in_(wanted)).options(selectinload(DynoSession.pulls))
    by_id = {session.id: session for session in (db.scalars(query) if wanted else ())}
    for c in first:
        now[c.id] = key_of_shape_1([by_id[number] for number in c.session_ids if number in by_id])
    return {c.id: ("pulls",) for c in early if now[c.id] != c.evidence_key}


def words_of(causes: Sequence[str]) -> str:
    """What changed, in words."""
    return "; ".join(CAUSES[name] for name in causes)
