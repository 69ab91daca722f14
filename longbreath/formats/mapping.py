"""Which column of a file is which channel, in which unit: guessing, checking and applying a mapping."""

from __future__ import annotations

import re
from collections.abc import Mapping as Texts
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np
import numpy.typing as npt

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.formats.table import Table

AFR = "AFR"
NO_SCALE = "Say what the meter calls λ = 1: 14.7 where it is set to petrol, 14.5 to diesel, 9.8 to E85, 9.0 to ethanol."
BEYOND = 1e12
"""A figure beyond this [SI] is none of the trade: it is taken for an empty cell."""
LEAST_SCALE, MOST_SCALE = 3.0, 40.0
"""Air to fuel at λ = 1 that a meter may be set to: methanol to hydrogen. Common practice, no source."""


@dataclass(frozen=True)
class Sought:
    """A quantity that is sought among the columns of a file: its kind, the unit choices offered, words that name it there."""

    name: str
    label: str
    kind: str
    unit_choices: tuple[str, ...]
    words: tuple[str, ...]
    required: bool = False


@dataclass(frozen=True)
class MappedColumn:
    """One mapped column: its header name, the symbol of the unit its figures are in, and what an air-to-fuel meter calls λ = 1."""

    header: str
    unit: str
    scale: float | None = None


Mapping = dict[str, MappedColumn]


def to_json(mapping: Mapping) -> dict[str, Any]:
    """A mapping as JSON-ready data."""
    return {name: asdict(column) for name, column in mapping.items()}


def from_json(data: dict[str, Any]) -> Mapping:
    """The inverse of `to_json`."""
    return {name: MappedColumn(**column) for name, column in data.items()}


def guess(table: Table, channels: Sequence[Sought]) -> Mapping:
    """The most likely mapping by header words and units; channels that nothing suggests are left out."""
    found: Mapping = {}
    taken: set[str] = set()
    likely = [
        (_likeness(channel, header, unit), -place, channel, header, unit)
        for place, channel in enumerate(channels)
        for header, unit in zip(table.headers, table.units, strict=True)
    ]
    for score, _, channel, header, unit in sorted(likely, key=lambda item: item[:2], reverse=True):
        if score > 0 and header not in taken and channel.name not in found:
            taken.add(header)
            symbol = _unit_symbol(channel, unit) or _unit_symbol(channel, header) or _default_unit(channel, header)
            found[channel.name] = MappedColumn(header, symbol)
    return found


AGAINST = "-against"
"""Ends the name of a field that says why the header is wrong there."""


def stated_unit(table: Table, column: MappedColumn, channel: Sought) -> str:
    """The unit that a file's own header states for a column, as one of the channel's; empty where it states none.

    A mixture's is left out: the figures tell λ from air to fuel.
    """
    if column.header not in table.headers or channel.name.startswith("mixture"):
        return ""
    unit = table.units[table.headers.index(column.header)]
    return _unit_symbol(channel, unit) or _unit_symbol(channel, column.header)


def with_stated_units(table: Table, start: Mapping, channels: Sequence[Sought]) -> tuple[Mapping, dict[str, str]]:
    """A mapping from before with the units that this header states, and by channel what it was read in before where that differs."""
    found, before = dict(start), {}
    for channel in channels:
        column = found.get(channel.name)
        stated = stated_unit(table, column, channel) if column is not None else ""
        if column is not None and stated and stated != column.unit:
            found[channel.name], before[channel.name] = replace(column, unit=stated), column.unit
    return found, before


def contradictions(
    table: Table, mapping: Mapping, texts: Texts[str, str], prefix: str, channels: Sequence[Sought]
) -> dict[str, str]:
    """Units against what the header states, that nobody said to be right (field "<prefix><channel>-against"), by channel in words."""
    found = {}
    for channel in channels:
        column = mapping.get(channel.name)
        stated = stated_unit(table, column, channel) if column is not None else ""
        if column is not None and stated and stated != column.unit and not texts.get(prefix + channel.name + AGAINST):
            words = f"The header says {stated}, and {column.unit or 'a plain number'} is chosen."
            found[channel.name + AGAINST] = f"{words} Choose {stated}, or say why the header is wrong."
    return found


def departures(
    table: Table, mapping: Mapping, texts: Texts[str, str], prefix: str, channels: Sequence[Sought]
) -> tuple[str, ...]:
    """Units that are read against what the header states, each with the reason that somebody gave for it."""
    found = []
    for channel in channels:
        column, why = mapping.get(channel.name), texts.get(prefix + channel.name + AGAINST, "").strip()
        stated = stated_unit(table, column, channel) if column is not None else ""
        if column is not None and why and stated and stated != column.unit:
            unit = column.unit or "plain numbers"
            found.append(f"{channel.label} read in {unit}, though the header says {stated}: {why}")
    return tuple(found)


def chosen(table: Table, start: Mapping, texts: Texts[str, str], prefix: str, channels: Sequence[Sought]) -> Mapping:
    """The mapping as a person chose it in a form (fields "<prefix><channel>-header", "-unit" and "-scale"), else `start`."""
    found: Mapping = {}
    for channel in channels:
        name, column = f"{prefix}{channel.name}", start.get(channel.name)
        if f"{name}-header" in texts:
            header = texts[f"{name}-header"]
            column = MappedColumn(header, texts.get(f"{name}-unit", "")) if header else None
        if column is not None and f"{name}-scale" in texts:
            column = replace(column, scale=_number(texts[f"{name}-scale"].strip().replace(",", ".")))
        if column is not None:
            found[channel.name] = column
    return found


def _number(text: str) -> float | None:
    try:
        return float(text) if text else None
    except ValueError:
        return float("nan")


def _likeness(channel: Sought, header: str, unit: str) -> int:
    """How much a column's name and unit speak for a channel; a word that is a part of the name speaks for itself by its length."""
    word = re.sub(r"[^a-zà-ÿλ/]", "", header.lower())
    whole = 30 if word in channel.words else 0
    part = max((len(w) for w in channel.words if len(w) > 2 and w in word), default=0)
    named = whole or min(part, 20)
    fits = bool(unit and _unit_symbol(channel, unit))
    if not fits and unit and unit != header and _is_known(unit):
        return 0  # another kind of quantity, whatever its name has in common
    return named + (8 if fits else 0) if named or _says_enough(channel, unit) else 0


def _is_known(text: str) -> bool:
    return any(units.guess_unit(kind, text) is not None for kind in units.KINDS)


def _says_enough(channel: Sought, unit: str) -> bool:
    """Whether a unit alone tells the channel: only power, torque and engine speed are known by it."""
    return channel.name in ("power", "torque", "speed", "mixture") and bool(_unit_symbol(channel, unit)) and bool(unit)


def _unit_symbol(channel: Sought, text: str) -> str:
    if channel.name.startswith("mixture"):
        low = text.lower()
        return AFR if "afr" in low or "air/fuel" in low else "λ" if low in ("λ", "lambda") else ""
    unit = units.guess_unit(channel.kind, text)
    return unit.symbol if unit and unit.symbol in channel.unit_choices else ""


def _default_unit(channel: Sought, header: str) -> str:
    low = header.lower()
    if channel.name == "power":
        return "hp" if "hp" in low else "kW"
    return channel.unit_choices[0]


def apply_columns(table: Table, mapping: Mapping, channels: Sequence[Sought]) -> dict[str, npt.NDArray[np.float64]]:
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
        result[channel.name] = _convert(table.values[:, table.headers.index(column.header)], channel, column)
        if not np.isfinite(result[channel.name]).any():
            raise InputError(f"Column “{column.header}” holds no numbers.", channel.name)
    return result


def _convert(values: npt.NDArray[np.float64], channel: Sought, column: MappedColumn) -> npt.NDArray[np.float64]:
    if column.unit == AFR:
        return values / scale_of(column, channel.name)
    if channel.name.startswith("mixture"):
        return np.where(np.abs(values) < BEYOND, values, np.nan)
    found = units.unit_of(channel.kind, column.unit)
    with np.errstate(over="ignore"):
        converted = values * found.factor + found.offset
    return np.where(np.abs(converted) < BEYOND, converted, np.nan)


def scale_of(column: MappedColumn, field: str) -> float:
    """What the air-to-fuel meter of a column calls λ = 1. Raises InputError if nobody said."""
    if column.scale is None:
        raise InputError(NO_SCALE, f"{field}-scale")
    if not LEAST_SCALE <= column.scale <= MOST_SCALE:
        raise InputError(f"No meter calls that λ = 1. {NO_SCALE}", f"{field}-scale")
    return column.scale
