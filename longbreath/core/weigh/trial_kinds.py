"""Kinds of trial: what a row of each holds, the step of its tool, and the conditions that are asked for."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Column:
    """One column of a kind's rows: name, label, kind of quantity ("" for words, "yes" for one of two words), whether it must be
    there."""

    name: str
    label: str
    kind: str = ""
    required: bool = True
    choices: tuple[str, str] = ("", "")


@dataclass(frozen=True)
class TrialKind:
    """A kind of trial: its name, what it is called, its columns, the kind of quantity of the tool's step, conditions asked for."""

    name: str
    title: str
    columns: tuple[Column, ...]
    step: str
    conditions: tuple[tuple[str, str], ...]
    example: str


KINDS = {
    kind.name: kind
    for kind in (
        TrialKind(
            "fuel",
            "Fuel trial",
            (
                Column("vehicle", "vehicle"),
                Column("group", "part or control", "yes", choices=("part", "control")),
                Column("when", "before or after", "yes", choices=("after", "before")),
                Column("distance", "distance", "distance"),
                Column("fuel", "fuel", "fuel_volume"),
                Column("driver", "driver", required=False),
                Column("route", "route", required=False),
                Column("week", "week", required=False),
            ),
            "fuel_volume",
            (("fuel", "Fuel"), ("load", "Load and tyres"), ("season", "Weather and season")),
            "van 1, part, before, 1240 km, 112.6 L, Ada, depot loop, 14",
        ),
        TrialKind(
            "temperature",
            "Temperatures",
            (
                Column("label", "A or B", "yes", choices=("B", "A")),
                Column("medium", "surface, gas or charge air"),
                Column("place", "place of the probe"),
                Column("value", "temperature", "temperature"),
                Column("ambient", "ambient", "temperature"),
                Column("rate", "still moving, a minute", "temperature_difference", required=False),
            ),
            "temperature_difference",
            (("probe", "Probe and its contact"), ("window", "Steady window"), ("drive", "Speed and load")),
            "A, charge air, after the cooler, 48.5 °C, 21 °C, 0.3",
        ),
        TrialKind(
            "noise",
            "Noise",
            (
                Column("label", "A or B", "yes", choices=("B", "A")),
                Column("value", "level", "level"),
                Column("distance", "distance", "length"),
                Column("speed", "engine speed", "speed"),
                Column("weighting", "weighting A, C or Z"),
            ),
            "level",
            (("background", "Background level"), ("surface", "Ground and walls"), ("response", "Time weighting")),
            "A, 84.2, 0.5 m, 4500 rpm, A",
        ),
        TrialKind(
            "mass",
            "Mass",
            (Column("label", "A or B", "yes", choices=("B", "A")), Column("value", "mass", "body_mass")),
            "body_mass",
            (("with", "Weighed with"),),
            "A, 4.82 kg",
        ),
        TrialKind(
            "track",
            "Track runs",
            (
                Column("label", "A or B", "yes", choices=("B", "A")),
                Column("time", "time", "time"),
                Column("speed", "speed at the end", "velocity", required=False),
                Column("mass", "vehicle mass", "body_mass", required=False),
                Column("split", "split", "time", required=False),
            ),
            "time",
            (("tyre", "Tyre and pressure"), ("surface", "Surface"), ("air", "Air and wind")),
            "A, 14.62 s, 98.1 mph, 1340 kg",
        ),
    )
}
