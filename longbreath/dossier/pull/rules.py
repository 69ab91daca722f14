"""What a pull is held to, and the pulls beside which it stands: rows of card, vehicle, dyno and session as inputs of the checks."""

from __future__ import annotations

from collections.abc import Collection

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.engine.assumptions import BOOSTED
from longbreath.core.judge.check import Earlier, OtherPulls, PullFacts, PullRules, log_facts
from longbreath.core.plan.conditions import channels_demanded, expected_pressures
from longbreath.core.pull.channels import ABSOLUTE, CHARGE, DUTY, GAUGE, MIXTURE, TURBINE
from longbreath.dossier.plan.cards import sensor_ceiling
from longbreath.dossier.records.sessions import sweeps
from longbreath.store.models import Application, Dyno, DynoSession, Pull, Sensor, TestCard, Vehicle

MOST_BEFORE = 24
"""Pulls of days before beside which the first of a day stands."""
FIRES = {"two-stroke": 1.0}
"""Injections in a revolution by cycle; the others inject once in two."""


def rules_of(db: Session, session: DynoSession, vehicle: Vehicle, label: str = "") -> PullRules:
    """What a pull of a session is held to. label: its letter, where the card asks each letter for its own boost."""
    card = session.card
    limits = {
        key: float(v) for key, v in card.limits.items() if isinstance(v, float) and key not in ("spring", "station")
    }
    window = {key: (float(pair[0]), float(pair[1])) for key, pair in card.window.items()}
    return PullRules(
        vehicle.band_low,
        vehicle.band_end,
        card.mixture_target,
        card.mixture_tolerance,
        limits,
        window,
        _boost_of(card, label),
        session.pressure,
        _ceilings(db, card),
        FIRES.get(vehicle.cycle, 0.5),
        card.dyno.repeatability,
        {words: DEMANDED[words] for words in _demanded(card, vehicle)},
    )


DEMANDED = {
    "mixture (λ)": (MIXTURE,),
    "manifold pressure, absolute or with the station's pressure": (ABSOLUTE, GAUGE),
    "back pressure before the turbine or in the downpipe": (TURBINE,),
    "controller duty": (DUTY,),
    "charge temperature after the cooler": (CHARGE,),
}
"""The channels of each thing that a card's modes demand; one of them is enough."""


def _demanded(card: TestCard, vehicle: Vehicle) -> tuple[str, ...]:
    boosted = vehicle.induction in BOOSTED
    return channels_demanded(card.tune_mode, card.control_mode, card.mixture_target is not None, boosted)


def _ceilings(db: Session, card: TestCard) -> dict[str, float]:
    """The end of the pressure sensor that the card names, by channel [Pa]."""
    sensor = db.get(Sensor, card.limits["sensor_id"]) if card.limits.get("sensor_id") else None
    if sensor is None:
        return {}
    gauge = sensor_ceiling(db, card.limits)
    return {ABSOLUTE: sensor.high} if sensor.is_absolute else {GAUGE: gauge or sensor.high}


def _settings(card: TestCard) -> tuple[int, tuple[float, ...]] | None:
    """Which factor is a series of boost settings, and the pressures expected of its levels [Pa]; None where none is."""
    for place, factor in enumerate(card.factors):
        try:
            found = expected_pressures(factor["levels"], lambda text: units.parse(text, "pressure").value)
        except InputError:
            continue
        if len(found) == len(factor["levels"]):
            return place, tuple(found.values())
    return None


def _boost_of(card: TestCard, label: str) -> float | None:
    """Boost [Pa] that the card asks of a letter: only where it is held equal; where it is left alone, none is asked for."""
    settings = _settings(card) if card.control_mode == "equal boost" else None
    levels = next((v.levels for v in card.variants if v.letter == label), [])
    return settings[1][levels[settings[0]]] if settings is not None and levels else None


def facts(db: Session, session: DynoSession, vehicle: Vehicle, wanted: list[Pull]) -> dict[int, PullFacts]:
    """What is known of pulls, by number: as kept with their readings, or found anew where they were recorded before it was kept."""
    known = {p.id: PullFacts.from_json(p.read.told["facts"]) for p in wanted if "facts" in p.read.told}
    bare = [p for p in wanted if p.id not in known]
    found = sweeps(db, bare)
    return known | {p.id: log_facts(found[p.id], rules_of(db, session, vehicle, p.label)) for p in bare}


def company_of(
    db: Session, session: DynoSession, vehicle: Vehicle, place: int, label: str, without: Collection[int] = ()
) -> OtherPulls:
    """The full pulls of a session beside which one of `label` at `place` stands; without: places of those that say nothing of it."""
    others = [p for p in session.full_pulls if p.sequence != place and p.sequence not in without]
    known = facts(db, session, vehicle, others)
    card, settings = session.card, _settings(session.card)
    series = card.design in ("factorial", "series")
    return OtherPulls(
        place,
        label,
        tuple(Earlier(p.sequence, p.label, p.is_valid, known[p.id]) for p in others),
        {v.letter: tuple(v.levels) for v in card.variants if v.levels} if series else {},
        settings[0] if settings and series else None,
        settings[1] if settings and series else (),
        () if others else _days_before(db, session, vehicle),
    )


def _days_before(db: Session, session: DynoSession, vehicle: Vehicle) -> tuple[float, ...]:
    """Mean torque of the last pulls of a vehicle that count [N m], on dynos that measure at the same place."""
    query = (
        select(Pull)
        .join(DynoSession, DynoSession.id == Pull.session_id)
        .join(Application, Application.id == DynoSession.application_id)
        .join(TestCard, TestCard.id == DynoSession.card_id)
        .join(Dyno, Dyno.id == TestCard.dyno_id)
        .where(
            Application.vehicle_id == vehicle.id,
            Dyno.measured_at == session.card.dyno.measured_at,
            DynoSession.id != session.id,
            Pull.kind == "sweep",
        )
        .order_by(Pull.id.desc())
        .limit(MOST_BEFORE)
    )
    counts = [pull for pull in db.scalars(query) if pull.is_valid]
    return tuple(float(p.read.told["facts"]["mean"]) for p in counts if "facts" in p.read.told)
