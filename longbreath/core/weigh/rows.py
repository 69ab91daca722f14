"""Rows of a trial as they are recorded (columns by name, SI) to readings, and what they show."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from longbreath.core.weigh import readings
from longbreath.core.weigh.fuel import Run
from longbreath.core.weigh.readings import Noise, ReadingsCompared, Temperature

Rows = Sequence[Mapping[str, Any]]


def runs(rows: Rows) -> list[Run]:
    """Runs of a fuel trial: vehicle, part or control, before or after, distance [m], fuel [m3], driver, route, week."""
    return [
        Run(
            r["vehicle"],
            r["group"] == "part",
            r["when"] == "after",
            r["distance"],
            r["fuel"],
            r.get("driver", ""),
            r.get("route", ""),
            r.get("week", ""),
        )
        for r in rows
    ]


def temperatures(rows: Rows) -> list[Temperature]:
    """Temperatures [K] with their ambient; the rate is recorded a minute."""
    return [
        Temperature(r["label"], r["medium"], r["place"], r["value"], r["ambient"], r.get("rate", 0.0) / 60.0)
        for r in rows
    ]


def noises(rows: Rows) -> list[Noise]:
    """Levels [dB] with distance [m], engine speed [rad/s] and weighting."""
    return [Noise(r["label"], r["value"], r["distance"], r["speed"], r["weighting"].upper()) for r in rows]


def masses(rows: Rows) -> tuple[list[float], list[float]]:
    """Weighings of A and of B [kg]."""
    a, b = ([float(r["value"]) for r in rows if r["label"] == label] for label in "AB")
    return a, b


BUILDERS: dict[str, Callable[[Rows], Any]] = {
    "fuel": runs,
    "temperature": temperatures,
    "noise": noises,
    "mass": masses,
}
"""How the rows of each kind become readings."""


def weigh(kind: str, rows: Rows, step: float) -> tuple[ReadingsCompared, ...]:
    """What readings of temperature, noise or mass show; step: of the tool [SI]. Raises EvidenceError where they are too few."""
    if kind == "temperature":
        return readings.weigh_temperatures(temperatures(rows), step)
    if kind == "noise":
        return readings.weigh_noise(noises(rows), step)
    return (readings.weigh_masses(*masses(rows), step),)
