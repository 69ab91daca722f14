"""Rounds of tuning on the dyno: kept, foretold, compared with what the next pull showed; and what a pull took of fuel."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.claim.language import find_in_record
from longbreath.core.engine.fuels import fuel_named
from longbreath.core.pull.channels import AIR_FLOW, FUEL_FLOW, MIXTURE, SPEED, TORQUE
from longbreath.core.tune import tuning
from longbreath.core.tune.tuning import FORETOLD, MixtureMatch, Taken
from longbreath.dossier.records.sessions import channels_of
from longbreath.store.models import Application, DynoSession, FuelBatch, Pull, TestCard, TuningRound
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class RoundCard:
    """One round: letter, what was changed from what to what [jets in m, injector times in s, else words], air to fuel at λ = 1 and
    density [kg/m3] of both fuels where the fuel was changed."""

    label: str
    kind: str
    words: str = ""
    jet_before: float | None = None
    jet_after: float | None = None
    time_before: float | None = None
    time_after: float | None = None
    dead_time: float | None = None
    ratio_before: float | None = None
    ratio_after: float | None = None
    density_before: float | None = None
    density_after: float | None = None
    fuel_id: int | None = None


def record_round(work: UnitOfWork, session: DynoSession, card: RoundCard) -> TuningRound:
    """Keep a round of tuning, with what lambda should become of it. Raises InputError for what cannot be."""
    if card.label not in session.card.letters:
        raise InputError("The card does not name this letter.", "label")
    if card.kind not in tuning.KINDS:
        raise InputError("Say what was changed.", "kind")
    if card.fuel_id and work.get(FuelBatch, card.fuel_id) is None:
        raise InputError("There is no such delivery of fuel.", "fuel_id")
    if said := find_in_record(card.words):
        raise InputError(f"“{said.word}”: {said.why}", "words")
    factor, before, after = _foretold(card)
    if not card.words.strip() and not before:
        raise InputError("Say what was changed, from what to what.", "words")
    work.lock_row(session)
    number = work.scalar(
        select(func.count(TuningRound.id)).where(TuningRound.session_id == session.id, TuningRound.label == card.label)
    )
    made = TuningRound(
        session_id=session.id,
        label=card.label,
        number=(number or 0) + 1,
        kind=card.kind,
        before=before,
        after=after,
        words=" ".join(card.words.split()),
        factor=factor,
        fuel_id=card.fuel_id or None,
        after_place=max((p.sequence for p in session.pulls), default=0),
        made_by_id=work.actor.id,
    )
    made.made_by = work.actor
    work.add(made)
    work.flush()
    return made


def _foretold(card: RoundCard) -> tuple[float | None, str, str]:
    """What lambda should be multiplied by, and the change in words; None where nothing foretells it."""
    if card.kind == "jet" and _given(card, "jet_before", "jet_after"):
        bores = float(card.jet_before or 0), float(card.jet_after or 0)
        return tuning.after_jet(*bores), f"{bores[0] * 1e3:.3g} mm", f"{bores[1] * 1e3:.3g} mm"
    if card.kind == "injection" and _given(card, "time_before", "time_after"):
        times = float(card.time_before or 0), float(card.time_after or 0)
        try:
            factor = tuning.after_injection(*times, card.dead_time or 0.0)
        except InputError as error:
            raise InputError(error.message, f"time_{error.field}") from None
        return factor, f"{times[0] * 1e3:.4g} ms", f"{times[1] * 1e3:.4g} ms"
    names = ("ratio_before", "ratio_after", "density_before", "density_after")
    if card.kind == "fuel" and _given(card, *names):
        values = [float(getattr(card, name)) for name in names]
        before, after = (f"{r:.3g} : 1, {d:.0f} kg/m³" for r, d in ((values[0], values[2]), (values[1], values[3])))
        return tuning.after_fuel(*values), before, after
    return None, "", ""


def _given(card: RoundCard, *names: str) -> bool:
    """Whether all of these were given. Raises InputError beside the missing one where only some were."""
    missing = [name for name in names if getattr(card, name) is None]
    if missing and len(missing) < len(names):
        raise InputError("This is needed as well, for a forecast.", missing[0])
    return not missing


def rounds_of(db: Session, session: DynoSession) -> list[TuningRound]:
    """The rounds of a session, in order."""
    return list(db.scalars(select(TuningRound).where(TuningRound.session_id == session.id).order_by(TuningRound.id)))


def rounds_given(db: Session, card: TestCard) -> dict[str, int]:
    """How many rounds each letter of a card was given on the dyno, over its sessions."""
    query = (
        select(TuningRound.label, func.count())
        .join(DynoSession, DynoSession.id == TuningRound.session_id)
        .where(DynoSession.card_id == card.id)
        .group_by(TuningRound.label)
    )
    return {label: count for label, count in db.execute(query)}


@dataclass(frozen=True)
class RoundResult:
    """A round beside what came of it: mean lambda of the last pull before it and of the first after it, what was foretold,
    and whether that was met (None where either is missing)."""

    round: TuningRound
    before: float | None
    after: float | None
    foretold: float | None
    is_met: bool | None


@dataclass(frozen=True)
class OutOfBox:
    """A letter as it came against as it was tuned: band mean of torque, as read [N m], of the last valid pull before its first round
    and of the last one after its last."""

    label: str
    before: float
    after: float

    @property
    def gain(self) -> float:
        """What tuning brought [N m]."""
        return self.after - self.before


@dataclass(frozen=True)
class Tuning:
    """Tuning on a day: rounds with what came of them, whether the mixtures of A and B match, the tolerance, rounds by letter, what
    each letter gained from out of the box to tuned."""

    rounds: tuple[RoundResult, ...]
    match: MixtureMatch
    pair: tuple[str, str]
    tolerance: float
    given: dict[str, int]
    gains: tuple[OutOfBox, ...] = ()

    @property
    def words(self) -> str:
        """Whether the curves match, in a sentence."""
        a, b = self.pair
        worst = self.match.worst
        if worst is None:
            return f"Mixtures of {a} and {b} cannot be compared yet: each needs a pull with λ."
        if self.match.is_met:
            return f"The mixtures of {a} and {b} match within {self.tolerance:.3g} over the band."
        where = f"{worst.low * 30 / np.pi:.0f} to {worst.high * 30 / np.pi:.0f} rpm"
        side = "leaner" if worst.off > 0 else "richer"
        return f"{b} is {side} than {a} by {abs(worst.off):.3f} from {where}; {self.tolerance:.3g} is allowed."


def tuning_of(db: Session, application: Application, session: DynoSession) -> Tuning:
    """How tuning stands on a day: by the last pull of each letter that counts or was out for its mixture alone."""
    pair = session.card.planned_pair(application.id)
    curves = _curves(db, session)
    vehicle, tolerance = application.vehicle, session.card.mixture_tolerance
    last = [[curves[p.id] for p in session.full_pulls if p.label == letter and p.id in curves][-1:] for letter in pair]
    rounds = rounds_of(db, session)
    told = [_told(made, session, curves, vehicle.band_low, vehicle.band_end) for made in rounds]
    given = dict(Counter(made.label for made in rounds))
    matched = tuning.match(last[0], last[1], vehicle.band_low, vehicle.band_end, tolerance)
    return Tuning(tuple(told), matched, pair, tolerance, given, _gains(session, rounds))


def _told(
    made: TuningRound, session: DynoSession, curves: dict[int, tuning.Curve], low: float, high: float
) -> RoundResult:
    """A round beside the last pull before it and the first after it."""
    mine = [p for p in session.full_pulls if p.label == made.label and p.id in curves]
    before = [p for p in mine if p.sequence <= made.after_place][-1:]
    after = [p for p in mine if p.sequence > made.after_place][:1]
    one, other = (_mean(curves, pulls, low, high) for pulls in (before, after))
    foretold = one * made.factor if one is not None and made.factor is not None else None
    met = abs(other - foretold) <= FORETOLD if other is not None and foretold is not None else None
    return RoundResult(made, one, other, foretold, met)


def _gains(session: DynoSession, rounds: Sequence[TuningRound]) -> tuple[OutOfBox, ...]:
    found = []
    for label in dict.fromkeys(r.label for r in rounds):
        places = [r.after_place for r in rounds if r.label == label]
        mine = [p for p in session.full_pulls if p.label == label and p.is_valid and "facts" in p.read.told]
        before = [p for p in mine if p.sequence <= places[0]][-1:]
        after = [p for p in mine if p.sequence > places[-1]][-1:]
        if before and after:
            found.append(OutOfBox(label, *(float(p.read.told["facts"]["mean"]) for p in (before[0], after[0]))))
    return tuple(found)


def _curves(db: Session, session: DynoSession) -> dict[int, tuning.Curve]:
    found = channels_of(db, session.full_pulls, (SPEED, MIXTURE))
    return {number: (c[SPEED], c[MIXTURE]) for number, c in found.items() if SPEED in c and MIXTURE in c}


def _mean(curves: dict[int, tuning.Curve], pulls: Sequence[Pull], low: float, high: float) -> float | None:
    if not pulls:
        return None
    speed, mixture = curves[pulls[0].id]
    inside = (speed >= low) & (speed <= high) & np.isfinite(mixture)
    return float(np.mean(mixture[inside])) if inside.any() else None


def fuel_taken(db: Session, application: Application, pull: Pull) -> Taken | None:
    """What a pull took of fuel over the band of use; None where no fuel flow was logged."""
    vehicle = application.vehicle
    names = (SPEED, TORQUE, MIXTURE, AIR_FLOW, FUEL_FLOW, *(f"{FUEL_FLOW} {n}" for n in range(2, 10)))
    channels = channels_of(db, [pull], names).get(pull.id, {})
    if SPEED not in channels:
        return None
    inside = (channels[SPEED] >= vehicle.band_low) & (channels[SPEED] <= vehicle.band_end)
    if not inside.any():
        return None
    return tuning.taken(channels, inside, fuel_named(vehicle.fuel).stoichiometric)
