"""What a command asks for: one description of each of its fields, of which forms, pages and pasted tables are made."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, get_type_hints

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError


@dataclass(frozen=True)
class Way:
    """How a value is typed as text and read again: read gets the text, the other values by name and the display system."""

    read: Callable[[str, Mapping[str, Any], str], Any]
    show: Callable[[Any, Any, str], str]
    is_long: bool = False


@dataclass(frozen=True)
class Ask:
    """One field: its label; kind (text, note, day, yes, money, file, part, or a kind of quantity); whether it must be filled in;
    bounds [SI]; what stands below it; choices by value; way: how it is typed, where that is no plain kind."""

    label: str
    kind: str = "text"
    needed: bool = True
    low: float | None = None
    high: float | None = None
    help: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    way: Way | None = None


def asked_of(card: type[Any]) -> dict[str, Ask]:
    """What a command asks for, by field, in order: its fields are annotated with it."""
    hints = get_type_hints(card, include_extras=True)
    found = {name: getattr(hint, "__metadata__", (None,))[0] for name, hint in hints.items()}
    return {name: ask for name, ask in found.items() if isinstance(ask, Ask)}


def shown(ask: Ask, value: Any, record: Any, system: str) -> str:
    """A value as a list shows it."""
    if ask.way is not None:
        return ask.way.show(value, record, system)
    if value is None or value == "":
        return ""
    if isinstance(value, date):
        return f"{value.day} {value:%b %Y}"
    if ask.choices:
        return dict(ask.choices)[value]
    if isinstance(value, float):
        return f"{value:.0f}" if ask.kind == "money" else units.show(value, ask.kind, system)
    return str(value)


def _minutes(text: str, others: Mapping[str, Any], system: str) -> int:
    hours, _, rest = text.strip().partition(":")
    if hours.isdigit() and (rest or "0").isdigit() and int(hours) <= 24 and int(rest or 0) < 60:
        return min(int(hours) * 60 + int(rest or 0), 1440)
    raise InputError(f"“{text.strip()}” is no time of day: write 08:00.")


def clock(minutes: int) -> str:
    """Minutes after midnight as a time of day."""
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def _pieces(
    apart: Callable[[str], Sequence[str]], none: str
) -> Callable[[str, Mapping[str, Any], str], tuple[str, ...]]:
    def read(text: str, others: Mapping[str, Any], system: str) -> tuple[str, ...]:
        found = tuple(dict.fromkeys(piece.strip() for piece in apart(text) if piece.strip()))
        if not found:
            raise InputError(none)
        return found

    return read


CLOCK = Way(_minutes, lambda value, record, system: clock(value))
LINES = Way(
    _pieces(str.splitlines, "A list has a line at least."), lambda value, record, system: "\n".join(value), is_long=True
)
SEMICOLONS = Way(
    _pieces(lambda text: text.split(";"), "Name the curves, separated by semicolons."),
    lambda value, record, system: "; ".join(value),
)


def _rows(text: str, others: Mapping[str, Any], system: str) -> tuple[tuple[float, ...], ...]:
    """Rows typed one a line, speed first, as numbers in SI."""
    columns, kind = others.get("columns") or (), str(others.get("quantity") or "torque")
    found: list[tuple[float, ...]] = []
    for number, line in enumerate(text.splitlines(), start=1):
        if not line.strip():
            continue
        parts = _cells(line)
        if len(parts) != len(columns) + 1:
            raise InputError(f"Line {number} holds {len(parts)} numbers; a speed and {len(columns)} values are wanted.")
        try:
            speed = units.parse(parts[0], "speed", system).value
            row = (speed, *(units.parse(part, kind, system).value for part in parts[1:]))
        except InputError as error:
            raise InputError(f"Line {number}: {error.message}") from None
        if found and row[0] <= found[-1][0]:
            raise InputError(f"Line {number}: the speeds must rise from line to line.")
        found.append(row)
    if len(found) < 2:
        raise InputError("A curve has two rows or more.")
    return tuple(found)


def _cells(line: str) -> list[str]:
    apart = line.replace(";", "\t").replace(",", "\t")
    return [cell.strip() for cell in (apart.split("\t") if "\t" in apart else line.split()) if cell.strip()]


def _rows_typed(value: Any, record: Any, system: str) -> str:
    symbol, own = units.kind_named(record.quantity).symbol(system), units.kind_named("speed").symbol(system)
    return "\n".join(
        " ".join(
            (
                f"{units.to_unit(row[0], 'speed', own):.0f}",
                *(f"{units.to_unit(v, record.quantity, symbol):.4g}" for v in row[1:]),
            )
        )
        for row in value
    )


ROWS = Way(_rows, _rows_typed, is_long=True)
