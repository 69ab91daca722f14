"""The health log of test engines and vehicles: entries, pulls that a finding puts in doubt, the age of a baseline."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from sqlalchemy import func, or_, select, tuple_
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.judge.health import DONE, FINDING, KINDS, Baseline, Doubt, Look, baseline_age, doubts, figures_say
from longbreath.dossier.events import EngineLookedAt, say
from longbreath.store.models import Application, CardPair, DynoSession, HealthEntry, Pull, TestEngine, Vehicle
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class Carrier:
    """What carries a test: an engine with a record of its own, or the vehicle's own engine."""

    engine: TestEngine | None = None
    vehicle: Vehicle | None = None

    @property
    def name(self) -> str:
        """What people call it."""
        if self.engine is not None:
            return f"{self.engine.serial}, {self.engine.what}" if self.engine.what else self.engine.serial
        return f"the engine of {self.vehicle.name}" if self.vehicle is not None else ""


@dataclass(frozen=True)
class HealthCard:
    """What was looked at or done: day, kind, figures [SI], words, and whether the person calls it a finding whatever they say."""

    held_on: date
    kind: str
    figures: tuple[float, ...] = ()
    words: str = ""
    finding: bool = False


def _on(carrier: Carrier) -> object:
    if carrier.engine is not None:
        return HealthEntry.engine_id == carrier.engine.id
    return HealthEntry.vehicle_id == (carrier.vehicle.id if carrier.vehicle is not None else 0)


def entries_of(db: Session, carrier: Carrier) -> list[HealthEntry]:
    """The entries that hold, newest first: without those that were replaced."""
    every = list(db.scalars(select(HealthEntry).where(_on(carrier))))  # type: ignore[arg-type]
    replaced = {entry.replaces_id for entry in every}
    return sorted((e for e in every if e.id not in replaced), key=lambda e: (e.held_on, e.id), reverse=True)


def add_entry(work: UnitOfWork, carrier: Carrier, card: HealthCard, replaces: HealthEntry | None = None) -> HealthEntry:
    """Write an entry. Its state follows from its figures and from what the person says; it does not soften what figures say.

    Raises InputError for figures that the kind cannot have, a day to come, or an entry that says nothing.
    """
    if card.held_on > work.clock().date():
        raise InputError("That day is still to come.", "held_on")
    kind = KINDS.get(card.kind)
    if kind is None:
        raise InputError("Choose what was looked at.", "kind")
    if not card.figures and not card.words.strip():
        raise InputError("Write the figures, or in words what was found.", "words")
    before = [
        e
        for e in entries_of(work, carrier)
        if e.kind == card.kind and e.figures and (replaces is None or e.id != replaces.id)
    ]
    state, told = figures_say(card.kind, card.figures, before[0].figures if before else ())
    if not kind.is_check:
        state = DONE
    elif card.finding:
        state = FINDING
    entry = HealthEntry(
        engine_id=carrier.engine.id if carrier.engine is not None else None,
        vehicle_id=carrier.vehicle.id if carrier.vehicle is not None and carrier.engine is None else None,
        held_on=card.held_on,
        kind=card.kind,
        figures=list(card.figures),
        words=card.words.strip(),
        state=state,
        told=told,
        replaces_id=replaces.id if replaces is not None else None,
        made_by_id=work.actor.id,
    )
    entry.made_by = work.actor
    work.add(entry)
    work.flush()
    say(work, EngineLookedAt(entry.engine_id, entry.vehicle_id))
    return entry


def carrier_of(session: DynoSession, vehicle: Vehicle, engines: dict[int, TestEngine]) -> Carrier:
    """What carried the pulls of a session."""
    if session.engine_id is not None and session.engine_id in engines:
        return Carrier(engines[session.engine_id], vehicle)
    return Carrier(None, vehicle)


@dataclass(frozen=True)
class PullsInDoubt:
    """A finding and the sessions whose pulls it puts in doubt."""

    carrier: Carrier
    entry: HealthEntry
    doubt: Doubt
    session_ids: tuple[int, ...]

    @property
    def words(self) -> str:
        """What is to be known of it, in a sentence."""
        since = f"since {self.doubt.since:%d %b %Y}" if self.doubt.since else "from the beginning"
        kind = KINDS[self.entry.kind].name
        told = self.entry.told or self.entry.words
        return f"{kind} of {self.carrier.name}, {self.entry.held_on:%d %b %Y}: {told.rstrip('.')}. Its pulls {since} are in doubt."


def doubts_of(db: Session, application: Application, sessions: Iterable[DynoSession]) -> tuple[PullsInDoubt, ...]:
    """The findings that put pulls of these sessions in doubt."""
    wanted = [s for s in sessions if s.full_pulls]
    engine_ids = {s.engine_id for s in wanted if s.engine_id is not None}
    query = select(HealthEntry).where(
        or_(HealthEntry.vehicle_id == application.vehicle_id, HealthEntry.engine_id.in_(engine_ids))
    )
    every = list(db.scalars(query))
    if not any(entry.state == FINDING for entry in every):
        return ()
    engines = {e.id: e for e in db.scalars(select(TestEngine).where(TestEngine.id.in_(engine_ids)))}
    found = []
    for carrier in {carrier_of(s, application.vehicle, engines) for s in wanted}:
        mine = [s for s in wanted if carrier_of(s, application.vehicle, engines) == carrier]
        entries = {e.id: e for e in entries_of(db, carrier)}
        for doubt in doubts(_looks(entries.values())):
            ids = tuple(s.id for s in mine if doubt.covers(s.held_on))
            if ids:
                found.append(PullsInDoubt(carrier, entries[doubt.entry.number], doubt, ids))
    return tuple(found)


def _looks(entries: Iterable[HealthEntry]) -> list[Look]:
    return [Look(e.id, e.held_on, e.kind, e.state) for e in entries]


def pulls_of(db: Session, carrier: Carrier) -> int:
    """How many pulls it has carried."""
    query = select(func.count(Pull.id)).join(DynoSession, DynoSession.id == Pull.session_id)
    if carrier.engine is not None:
        query = query.where(DynoSession.engine_id == carrier.engine.id)
    else:
        mine = select(Application.id).where(Application.vehicle_id == (carrier.vehicle.id if carrier.vehicle else 0))
        query = query.where(DynoSession.application_id.in_(mine), DynoSession.engine_id.is_(None))
    return int(db.scalar(query) or 0)


def baseline_of(db: Session, application: Application, today: date) -> Baseline | None:
    """The age of the newest baseline of a dossier: its last session in which stock was pulled; None where there is none."""
    own = select(DynoSession).where(DynoSession.application_id == application.id)
    newest_first = db.scalars(own.order_by(DynoSession.held_on.desc(), DynoSession.id.desc()))
    newest = next((s for s in newest_first if _has_stock(s, application.id)), None)
    if newest is None:
        return None
    later = tuple_(DynoSession.held_on, DynoSession.id) > tuple_(newest.held_on, newest.id)
    after = (
        select(func.count(Pull.id))
        .join(DynoSession, DynoSession.id == Pull.session_id)
        .join(Application, Application.id == DynoSession.application_id)
        .where(Application.vehicle_id == application.vehicle_id, later, Pull.kind == "sweep")
        .where(DynoSession.engine_id.is_not_distinct_from(newest.engine_id))
    )
    stock = newest.card.pair_of(application.id)[0]
    last = max(p.sequence for p in newest.full_pulls if p.is_valid and p.label == stock)
    since = (db.scalar(after) or 0) + sum(p.sequence > last for p in newest.full_pulls)
    engine = db.get(TestEngine, newest.engine_id) if newest.engine_id else None
    looks = _looks(entries_of(db, Carrier(engine, application.vehicle)))
    return baseline_age(newest.held_on, today, since, looks)


def _has_stock(session: DynoSession, application_id: int) -> bool:
    return any(p.is_valid and p.label == session.card.pair_of(application_id)[0] for p in session.full_pulls)


def bearing_on(db: Session, engine_id: int | None, vehicle_id: int | None) -> list[Application]:
    """The dossiers whose evidence an entry on an engine or a vehicle may bear on."""
    query = select(Application)
    if engine_id is not None:
        pulled = select(CardPair.application_id).join(DynoSession, DynoSession.card_id == CardPair.card_id)
        query = query.where(Application.id.in_(pulled.where(DynoSession.engine_id == engine_id)))
    else:
        query = query.where(Application.vehicle_id == vehicle_id)
    return list(db.scalars(query))
