"""From a stretch of a file to the channels of a pull: columns by their mapping, a second file on its clock, torque of a roller."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Protocol

import numpy as np

from longbreath.core.basis.errors import InputError
from longbreath.core.pull.align import Alignment, align, onto
from longbreath.core.pull.channels import CHANNELS, POWER, ROLLER, SPEED, TIME, TORQUE, base_of
from longbreath.core.pull.pulls import Array
from longbreath.core.pull.roller import USUAL, Roller, effect_words, engine_torque, smoothing_effects
from longbreath.formats import mapping as mapped
from longbreath.formats.mapping import Mapping as Columns
from longbreath.formats.mapping import Sought
from longbreath.formats.sought import PULL_CHANNELS
from longbreath.formats.table import Table

AS_LOGGED = "as logged: "
MOST_OTHERS = 64
_BY_NAME = {sought.name: sought for sought in PULL_CHANNELS}


class Rollers(Protocol):
    """What is known of a dyno's rollers: inertia [kg m2] and radius [m]."""

    @property
    def roller_inertia(self) -> float | None: ...
    @property
    def roller_radius(self) -> float | None: ...


@dataclass(frozen=True)
class Read:
    """The channels of a pull [SI], each (n,); what the source calls each, at which rate it wrote it [Hz]; what else is told of it."""

    channels: dict[str, Array]
    labels: dict[str, str] = field(default_factory=dict)
    rates: dict[str, float | None] = field(default_factory=dict)
    told: dict[str, Any] = field(default_factory=dict)


def sought_for(columns: Columns) -> tuple[Sought, ...]:
    """What is sought by a mapping: the usual channels, and each second one that it names (“exhaust 2”)."""
    more = [
        Sought(name, f"{known.label} {name.split()[-1]}", known.kind, known.unit_choices, known.words)
        for name in columns
        if name not in _BY_NAME and (known := _BY_NAME.get(base_of(name))) is not None
    ]
    return (*PULL_CHANNELS, *more)


def columns_of(table: Table, columns: Columns) -> Read:
    """The mapped columns of a table in SI, and the others as they were logged. Raises InputError with the channel's name as field."""
    channels = mapped.apply_columns(table, columns, sought_for(columns))
    used = {column.header for column in columns.values()}
    labels = {name: columns[name].header for name in channels}
    for place, header in enumerate(h for h in table.headers if h not in used):
        values = table.values[:, table.headers.index(header)]
        if place < MOST_OTHERS and np.isfinite(values).any():
            channels[AS_LOGGED + header] = np.where(np.abs(values) < mapped.BEYOND, values, np.nan)
            labels[AS_LOGGED + header] = header
    rate = _rate(channels)
    return Read(channels, labels, dict.fromkeys(channels, rate))


def _rate(channels: Mapping[str, Array]) -> float | None:
    time = channels.get(TIME)
    if time is None:
        return None
    steps = np.diff(time[np.isfinite(time)])
    steps = steps[steps > 0]
    return round(1.0 / float(np.median(steps)), 4) if steps.size else None


def can_make_torque(channels: Sequence[str] | Mapping[str, Any], dyno: Rollers) -> bool:
    """Whether torque is logged, or can be made: of power, or of roller speed, time and the dyno's inertia."""
    return (
        TORQUE in channels
        or POWER in channels
        or (ROLLER in channels and TIME in channels and bool(dyno.roller_inertia))
    )


def with_torque(read: Read, dyno: Rollers, smoothing: float | None) -> Read:
    """The channels with torque, made from the roller where only speeds were logged.

    smoothing: width [s] over which acceleration is taken. Raises InputError where there is neither torque nor power, nor a way to it.
    """
    channels = read.channels
    if TORQUE in channels or POWER in channels:
        return read
    if not can_make_torque(channels, dyno):
        words = "Choose a column for torque or for power, or both."
        if ROLLER in channels and TIME in channels:
            words = "Only speeds were logged: write the inertia of the rollers on the dyno, and torque is made from it."
        raise InputError(words, TORQUE)
    width = smoothing or USUAL
    roller = Roller(dyno.roller_inertia or 0.0, dyno.roller_radius or 0.0)
    good = np.isfinite(channels[TIME]) & np.isfinite(channels[ROLLER]) & np.isfinite(channels[SPEED])
    given = channels[TIME][good], channels[ROLLER][good], channels[SPEED][good]
    torque = np.full(good.size, np.nan)
    torque[good] = engine_torque(*given, roller, width)
    effects = smoothing_effects(*given, roller, tuple(sorted({width, width / 2, width * 2})))
    told = {
        "torque": f"Torque from roller speed: inertia {roller.inertia:g} kg·m² × acceleration, no losses added. "
        + effect_words(effects, width),
        "smoothing": width,
    }
    return Read({**channels, TORQUE: torque}, read.labels, read.rates, {**read.told, **told})


def joined(read: Read, logger: Read) -> tuple[Read, Alignment | None]:
    """A second file's channels on the clock of the first, by the engine speed that both logged; by speed alone where the first has
    no time. What the first has stays; the second's own come beside it.

    Raises InputError (field "file") where their speeds do not run together.
    """
    if SPEED not in logger.channels:
        raise InputError("The second file holds no engine speed by which it could be laid on the first.", "file")
    here, there = read.channels, logger.channels
    found = None
    if TIME in here and TIME in there:
        found = align(here[TIME], here[SPEED], there[TIME], there[SPEED])
        wanted, axis = here[TIME], there[TIME] + found.lag
    else:
        wanted, axis = here[SPEED], there[SPEED]
    channels, labels, rates = dict(here), dict(read.labels), dict(read.rates)
    for name, values in there.items():
        if name in (SPEED, TIME):
            continue
        own = name if name not in channels else _second(name, channels)
        channels[own] = onto(wanted, axis, values)
        labels[own], rates[own] = logger.labels.get(name, name), logger.rates.get(name)
    told = {"joined": _joined_words(found)}
    return Read(channels, labels, rates, {**read.told, **told}), found


def _second(name: str, taken: Mapping[str, Any]) -> str:
    number = 2
    while f"{name} {number}" in taken:
        number += 1
    return f"{name} {number}"


def _joined_words(found: Alignment | None) -> str:
    if found is None:
        return "The first file has no time: the second lies on it by engine speed."
    return (
        f"Laid on each other by engine speed: the second clock is {found.lag:.3f} s behind, the speeds then differ by "
        f"{found.off * 30 / np.pi:.0f} rpm, correlation {found.correlation:.4f}, over {found.overlap:.1f} s."
    )


def kind_of(name: str) -> str:
    """The kind of quantity of a channel; of one as it was logged, that nobody said."""
    known = CHANNELS.get(base_of(name))
    return known.kind if known is not None else "as logged"
