"""Temperature, noise and mass as weighed things: what may be laid beside what, and the verdict on it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.compare.compare import Effect, verdict
from longbreath.core.weigh.samples import welch

SURFACE, GAS, CHARGE_AIR = "surface", "gas", "charge air"
MEDIA = (SURFACE, GAS, CHARGE_AIR)
STEADY = 1.0 / 60.0
"""A temperature that still moves faster than this [K/s] is not steady: one kelvin a minute. Common practice, no source."""
MARGINS = {"temperature": 2.0, "noise": 1.0, "mass": 0.0}
"""Differences below this say nothing to a buyer: 2 K, 1 dB; a mass is what it is. Common practice, no source."""
WEIGHTINGS = ("A", "C", "Z")
WORDS = {
    "temperature": {"gain": "hotter", "loss": "cooler"},
    "noise": {"gain": "louder", "loss": "quieter"},
    "mass": {"gain": "heavier", "loss": "lighter"},
}


@dataclass(frozen=True)
class Temperature:
    """One steady reading: letter, medium, place of the probe, temperature and ambient [K], how fast it still moved [K/s]."""

    label: str
    medium: str
    place: str
    value: float
    ambient: float
    rate: float = 0.0

    def __post_init__(self) -> None:
        if self.medium not in MEDIA:
            raise InputError("A probe sits on a surface, in the gas, or in the charge air.", "medium")


@dataclass(frozen=True)
class Noise:
    """One reading of a sound level meter: letter, level [dB], distance [m], engine speed [rad/s], weighting."""

    label: str
    value: float
    distance: float
    speed: float
    weighting: str

    def __post_init__(self) -> None:
        if self.weighting not in WEIGHTINGS:
            raise InputError("The weighting is A, C or Z.", "weighting")


@dataclass(frozen=True)
class ReadingsCompared:
    """A difference of readings under one set of conditions: what, conditions in words, B − A, verdict, how many of each, what
    fell out."""

    kind: str
    conditions: str
    effect: Effect
    verdict: str
    counts: tuple[int, int]
    out: tuple[str, ...] = ()


def _judged(kind: str, conditions: str, a: Sequence[float], b: Sequence[float], step: float, family: int) -> Effect:
    try:
        return welch(a, b, step, family)
    except EvidenceError as error:
        raise EvidenceError(f"{conditions}: {error.message}") from None


def said_of(kind: str, effect: Effect) -> str:
    """The verdict on a difference of readings [SI], in the words of its kind."""
    said = verdict(effect, MARGINS[kind], after_looking=True)
    return WORDS[kind].get(said, said)


def weigh_temperatures(readings: Sequence[Temperature], step: float = 0.0) -> tuple[ReadingsCompared, ...]:
    """B − A of the rise over ambient [K], for each medium and place apart: surface, gas and charge air are never mixed.

    Readings that still moved fall out and are named. Raises EvidenceError where no place has both.
    """
    places = list(dict.fromkeys((r.medium, " ".join(r.place.casefold().split())) for r in readings))
    found, short = [], []
    usable = []
    for medium, place in places:
        mine = [r for r in readings if (r.medium, " ".join(r.place.casefold().split())) == (medium, place)]
        out = tuple(f"{r.label} at {r.value - 273.15:.1f} °C still moved" for r in mine if abs(r.rate) > STEADY)
        a, b = ([r.value - r.ambient for r in mine if r.label == x and abs(r.rate) <= STEADY] for x in "AB")
        words = f"{medium}, {mine[0].place}"
        if len(a) >= 2 and len(b) >= 2:
            usable.append((words, a, b, out))
        else:
            short.append(f"{words}: {len(a)} of A and {len(b)} of B")
    if not usable:
        raise EvidenceError(f"No probe has two steady readings of each: {'; '.join(short)}.")
    for words, a, b, out in usable:
        effect = _judged("temperature", words, a, b, step, len(usable))
        found.append(
            ReadingsCompared("temperature", words, effect, said_of("temperature", effect), (len(a), len(b)), out)
        )
    return tuple(found)


def weigh_noise(readings: Sequence[Noise], step: float = 0.0) -> tuple[ReadingsCompared, ...]:
    """B − A [dB] for each distance, engine speed and weighting apart. Raises EvidenceError where nothing is alike.

    Speeds count as one within 3 %, distances within 2 %.
    """
    groups: list[list[Noise]] = []
    for r in readings:
        home = next((g for g in groups if _alike(g[0], r)), None)
        if home is None:
            groups.append([r])
        else:
            home.append(r)
    usable = []
    for group in groups:
        a, b = ([r.value for r in group if r.label == x] for x in "AB")
        if len(a) >= 2 and len(b) >= 2:
            first = group[0]
            words = f"{first.weighting}-weighted, {first.distance:.1f} m, {first.speed * 9.5493:.0f} rpm"
            usable.append((words, a, b))
    if not usable:
        raise EvidenceError("No distance, speed and weighting has two readings of A and two of B.")
    found = []
    for words, a, b in usable:
        effect = _judged("noise", words, a, b, step, len(usable))
        found.append(ReadingsCompared("noise", words, effect, said_of("noise", effect), (len(a), len(b))))
    return tuple(found)


def _alike(one: Noise, other: Noise) -> bool:
    return (
        one.weighting == other.weighting
        and abs(one.speed - other.speed) <= 0.03 * one.speed
        and abs(one.distance - other.distance) <= 0.02 * one.distance
    )


def weigh_masses(a: Sequence[float], b: Sequence[float], step: float) -> ReadingsCompared:
    """B − A of weighings [kg]. Raises EvidenceError with fewer than two of either."""
    effect = welch(a, b, step)
    return ReadingsCompared("mass", "on one scale", effect, said_of("mass", effect), (len(a), len(b)))
