"""Days in the cell that the demo tells of, pulled live by the stand-ins: what their instruments said, recorded as sent."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date

import numpy as np

from longbreath.core.dyno.live import OVER, Stream, watch
from longbreath.demo.days import work_day
from longbreath.demo.visits import DROVER, boost_of, boosted_torque, crest_effect, visit
from longbreath.devices.made_engine import Array, Day, Engine
from longbreath.devices.made_torque import Bed, larger_throttle, wave_torque
from longbreath.devices.standin_cell import Instrument, SimulatedCell
from longbreath.dossier.pull import closing, verbs
from longbreath.dossier.pull.closing import ClosingCard
from longbreath.dossier.pull.conditions import put_conditions
from longbreath.dossier.pull.live import capture_of, record_live
from longbreath.dossier.pull.tuning import RoundCard, record_round
from longbreath.store.models import Application, DynoSession, TestCard
from longbreath.store.unit_of_work import UnitOfWork

NAME = "demo"
REASONS = {
    "pulls": "The van was due at its depot at four.",
    "fuel": "Drawn from the shop’s own tank; its delivery is not written down.",
    "tune": "The maker’s own map, never changed.",
}
"""What was said in the evening of what was missing, by kind."""
LEAST = 0.4


def parcel_torque(rpm: Array) -> Array:
    """Torque of the delivery van at the roller [N m] over speed [rpm], unfilled: its turbo makes the rest."""
    return 118.0 - 26.0 * ((rpm - 2300.0) / 1700.0) ** 2


def duet_torque(rpm: Array) -> Array:
    """Torque of the twin-rotor coupe at the roller [N m] over speed [rpm]."""
    return 138.0 + 22.0 * np.exp(-(((rpm - 5600.0) / 2300.0) ** 2)) - 9.0 * np.clip((rpm - 7600.0) / 1000.0, 0.0, None)


def inserts_effect(rpm: Array) -> Array:
    """What the port inserts do [N m]: they lose below and win above."""
    return 7.5 / (1.0 + np.exp(-(rpm - 6400.0) / 380.0)) - 6.0 * np.exp(-(((rpm - 3000.0) / 900.0) ** 2))


PARCEL = Bed(
    Engine(parcel_torque, low=900.0, high=4090.0, rise=300.0, ratio=3.9, mixture=1.45, scatter=0.7, spool=1450.0),
    lambda rpm: 0.0 * rpm,
    settings=(95.0,),
    effect_on_boost=0.4,
)
DUET = Bed(
    Engine(duet_torque, low=1900.0, high=8880.0, rise=820.0, ratio=5.1, mixture=0.87, scatter=0.5), inserts_effect
)
CREST = Bed(DROVER, crest_effect)
PETREL = Bed(Engine(wave_torque), larger_throttle)


@dataclass(frozen=True)
class LiveDay:
    """A day in the cell: bed, letters in the order they were pulled, seed, air of the day [°C, kPa], gear, correction standard;
    faults by place; whether it was closed in the evening."""

    bed: Bed
    letters: str
    seed: int
    air: float = 20.0
    room: float = 100.9
    gear: str = "4th gear"
    standard: str = "sae_j1349"
    faults: Mapping[int, str] = field(default_factory=dict)
    closed: bool = False


def pull_live(
    db: UnitOfWork,
    application: Application,
    card: TestCard,
    day: date,
    told: LiveDay,
    bed_of: Callable[[str], Bed] | None = None,
) -> DynoSession:
    """Pull a day live. bed_of: the bed of each letter, where a card has more than two."""
    work_day(db, day, hour=10)
    air = visit(day, told.gear, f"{told.air - 1.0} C")
    session = verbs.open_session(
        db, application, card, replace(air, standard=told.standard, pressure=told.room * 1e3, humidity=0.46)
    )
    cell = SimulatedCell(
        bed=NAME, beds={NAME: told.bed}, seed=told.seed, room=told.room, day=Day(intake=told.air, room=told.room)
    )
    instruments = {kind: Instrument(kind, cell) for kind in ("dyno", "logger")}
    vehicle = application.vehicle
    for place, letter in enumerate(told.letters, start=1):
        cell.beds = {NAME: bed_of(letter) if bed_of is not None else told.bed}
        cell.part = "A" if bed_of is not None else letter
        cell.take(f"fault {told.faults.get(place, 'none')}")
        frames = cell.take_pull()
        rows = {kind: [(at, device.values(at, frame)) for at, frame in frames] for kind, device in instruments.items()}
        columns = {word: np.array([values[word] for _, values in rows["dyno"]]) for word in ("time", "speed", "torque")}
        throttle = np.array([values["throttle"] for _, values in rows["logger"]])
        seen = watch(
            Stream(columns["time"], columns["speed"], columns["torque"], throttle),
            LEAST * (vehicle.band_end - vehicle.band_low),
        )
        if seen.state != OVER or seen.stretch is None:
            raise ValueError(f"no pull was found at place {place} of {letter}")
        weather = {"temperature": 272.15 + told.air, "pressure": told.room * 1e3, "humidity": 0.46}
        clocks = {"dyno": 0.0003, "logger": -0.0002}
        record_live(db, session, capture_of(rows["dyno"], seen.stretch, rows["logger"], weather, clocks), letter, place)
    put_conditions(db, session, {(letter, "calibration"): "12 January 2026" for letter in set(told.letters)})
    verbs.renew_served(db, session)
    db.expire(session, ["pulls", "files"])
    if told.closed:
        missing = closing.missing_of(db, application, session)
        reasons = {thing.key: REASONS.get(thing.key.partition("-")[0], REASONS["pulls"]) for thing in missing}
        closing.close(db, application, session, ClosingCard(reasons))
    return session


def crest(db: UnitOfWork, application: Application, card: TestCard) -> None:
    """Two more days with the open plenum: one that repeats the first, one on which the converter unlocked once."""
    gear = "3rd gear, converter locked"
    pull_live(db, application, card, date(2026, 10, 9), LiveDay(CREST, "AAABBBAAABBBAAA", 5100, 19.0, gear=gear))
    faults = {4: "converter"}
    told = LiveDay(CREST, "AAABBBBAAABBBAAA", 5200, 18.0, gear=gear, faults=faults, closed=True)
    pull_live(db, application, card, date(2026, 10, 22), told)


def parcel(db: UnitOfWork, application: Application, card: TestCard) -> None:
    """Two days with the van: its elbow flows more on the bench and does nothing here that could be told from nothing."""
    for day, seed, letters, closed in (
        (date(2026, 6, 18), 5300, "AAABBBAAA", False),
        (date(2026, 6, 25), 5400, "AAABBBAA", True),
    ):
        told = LiveDay(PARCEL, letters, seed, 23.0, 101.2, "4th gear, van empty", "none", closed=closed)
        pull_live(db, application, card, day, told)


def duet(db: UnitOfWork, application: Application, card: TestCard) -> None:
    """Two days with the coupe's port inserts."""
    pull_live(db, application, card, date(2026, 8, 24), LiveDay(DUET, "AAABBBAAA", 5500, 26.0, 100.4))
    told = LiveDay(DUET, "AAAABBBAAA", 5600, 21.0, 100.8, faults={2: "misfire"})
    pull_live(db, application, card, date(2026, 9, 2), told)


def petrel(db: UnitOfWork, application: Application, card: TestCard) -> None:
    """A baseline of the throttle body's card: three pulls of A, before the larger one came."""
    session = pull_live(db, application, card, date(2026, 9, 28), LiveDay(PETREL, "AAA", 5700, 22.0, 100.6))
    record_round(db, session, RoundCard("A", "map", "checked only, nothing was changed"))


def bittern(db: UnitOfWork, application: Application, card: TestCard) -> None:
    """Two conditions of the factorial pulled again a week later: what a day adds to the scatter."""
    levels = {v.letter: tuple(v.levels) for v in card.variants}

    def bed_of(letter: str) -> Bed:
        boost = boost_of(levels[letter])
        return Bed(boosted_torque(levels[letter], boost), lambda rpm: 0.0 * rpm, (boost,), is_filled=True)

    letters = list(dict.fromkeys(card.order))[:2]
    told = LiveDay(bed_of(letters[0]), "".join(letters[0] * 2 + letters[1] * 2), 5800, 16.0, 100.9, standard="none")
    pull_live(db, application, card, date(2026, 11, 13), told, bed_of)
