"""Which column of a file is which channel, in which unit: guessing, checking and applying a mapping."""

from __future__ import annotations

import re
from collections.abc import Mapping as Texts
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.dyno.channels import CHANNELS, MIXTURE, POWER, SPEED, TORQUE
from longbreath.formats.table import Table

STOICHIOMETRIC_PETROL = 14.7
"""Air to fuel of pump petrol at λ = 1. Common practice, no source (14.5 to 14.7 are quoted)."""


@dataclass(frozen=True)
class Sought:
    """A quantity that is sought among the columns of a file: its kind, the unit choices offered, words that name it there."""

    name: str
    label: str
    kind: str
    unit_choices: tuple[str, ...]
    words: tuple[str, ...]
    required: bool = False


def _channel(name: str, unit_choices: tuple[str, ...], words: tuple[str, ...]) -> Sought:
    found = CHANNELS[name]
    return Sought(name, found.label, found.kind, unit_choices, words, found.required)


PULL_CHANNELS = (
    _channel(SPEED, ("rpm", "rad/s"), ("rpm", "enginespeed", "speed", "revs", "drehzahl", "n")),
    _channel(TORQUE, ("N·m", "lb-ft", "kgf·m"), ("torque", "trq", "tq", "drehmoment", "moment", "couple", "m")),
    _channel(POWER, ("kW", "hp", "PS", "W"), ("power", "pwr", "hp", "whp", "bhp", "kw", "ps", "leistung", "p")),
    _channel(MIXTURE, ("λ", "AFR"), ("lambda", "λ", "afr", "mixture", "lam", "air/fuel", "airfuel")),
)
"""What is sought in the file of a pull."""


@dataclass(frozen=True)
class MappedColumn:
    """One mapped column: its header name and the symbol of the unit its figures are in."""

    header: str
    unit: str


Mapping = dict[str, MappedColumn]


def to_json(mapping: Mapping) -> dict[str, Any]:
    """A mapping as JSON-ready data."""
    return {name: asdict(column) for name, column in mapping.items()}


def from_json(data: dict[str, Any]) -> Mapping:
    """The inverse of `to_json`."""
    return {name: MappedColumn(**column) for name, column in data.items()}


def guess(table: Table, channels: Sequence[Sought] = PULL_CHANNELS) -> Mapping:
    """The most likely mapping by header words and units; channels that nothing suggests are left out."""
    found: Mapping = {}
    taken: set[str] = set()
    for channel in channels:
        ranked = sorted(
            (
                (_likeness(channel, header, unit), header, unit)
                for header, unit in zip(table.headers, table.units, strict=True)
                if header not in taken
            ),
            key=lambda item: -item[0],
        )
        if ranked and ranked[0][0] > 0:
            _, header, unit = ranked[0]
            taken.add(header)
            found[channel.name] = MappedColumn(
                header, _unit_symbol(channel, unit or header) or _default_unit(channel, header)
            )
    return found


def chosen(
    table: Table, kept: dict[str, Any] | None, texts: Texts[str, str], prefix: str, channels: Sequence[Sought]
) -> Mapping:
    """The mapping as a person chose it in a form (fields "<prefix><channel>-header" and "-unit"), else the one kept
    for the source, else the guess."""
    start = from_json(kept) if kept is not None else guess(table, channels)
    found: Mapping = {}
    for channel in channels:
        name = f"{prefix}{channel.name}"
        if f"{name}-header" in texts:
            if header := texts[f"{name}-header"]:
                found[channel.name] = MappedColumn(header, texts.get(f"{name}-unit", ""))
        elif channel.name in start:
            found[channel.name] = start[channel.name]
    return found


def _likeness(channel: Sought, header: str, unit: str) -> int:
    word = re.sub(r"[^a-zλ/]", "", header.lower())
    score = 3 if word in channel.words else 1 if any(len(w) > 2 and w in word for w in channel.words) else 0
    return score + (2 if unit and _unit_symbol(channel, unit) else 0)


def _unit_symbol(channel: Sought, text: str) -> str:
    if channel.name == "mixture":
        low = text.lower()
        return "AFR" if "afr" in low else "λ" if low in ("λ", "lambda") else ""
    unit = units.guess_unit(channel.kind, text)
    return unit.symbol if unit and unit.symbol in channel.unit_choices else ""


def _default_unit(channel: Sought, header: str) -> str:
    low = header.lower()
    if channel.name == "power":
        return "hp" if "hp" in low else "kW"
    return channel.unit_choices[0]


def apply_columns(
    table: Table, mapping: Mapping, channels: Sequence[Sought] = PULL_CHANNELS
) -> dict[str, npt.NDArray[np.float64]]:
    """The mapped channels in SI, each (n,). Raises InputError with the channel's name as field."""
    result = {}
    for channel in channels:
        column = mapping.get(channel.name)
        if column is None or not column.header:
            if channel.required:
                raise InputError(f"Choose the column that holds the {channel.label.lower()}.", channel.name)
            continue
        if column.header not in table.headers:
            raise InputError(f"The file has no column “{column.header}”.", channel.name)
        if column.unit not in channel.unit_choices:
            raise InputError(f"“{column.unit}” is not one of: {', '.join(channel.unit_choices)}.", channel.name)
        result[channel.name] = _convert(table.values[:, table.headers.index(column.header)], channel, column.unit)
        if not np.isfinite(result[channel.name]).any():
            raise InputError(f"Column “{column.header}” holds no numbers.", channel.name)
    return result


def apply(table: Table, mapping: Mapping) -> dict[str, npt.NDArray[np.float64]]:
    """The channels of a pull in SI, each (n,). Raises InputError with the channel's name as field."""
    result = apply_columns(table, mapping)
    if "torque" not in result and "power" not in result:
        raise InputError("Choose a column for torque or for power, or both.", "torque")
    return result


def _convert(values: npt.NDArray[np.float64], channel: Sought, unit: str) -> npt.NDArray[np.float64]:
    if channel.name == "mixture":
        return values / STOICHIOMETRIC_PETROL if unit == "AFR" else values
    found = units.unit_of(channel.kind, unit)
    return values * found.factor + found.offset
