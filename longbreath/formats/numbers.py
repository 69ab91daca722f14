"""What the figures themselves say of a mapping: torque × speed is power, a pressure is absolute or gauge, a mixture is λ or AFR."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np
import numpy.typing as npt

from longbreath.core.basis import units
from longbreath.core.pull.channels import ABSOLUTE, EXHAUST, GAUGE, MIXTURE, POWER, SPEED, TIME, TORQUE, base_of
from longbreath.formats.mapping import AFR, MappedColumn, Mapping, Sought, guess
from longbreath.formats.table import Table

Array = npt.NDArray[np.float64]
IDENTITY = 0.02
"""Power is taken to be torque × speed within this share (median)."""
ABSOLUTE_LEAST = 60e3
"""An absolute pressure beside an engine at work lies above this [Pa] for most of a log that never falls near nought."""


def propose(table: Table, channels: Sequence[Sought]) -> tuple[Mapping, dict[str, str]]:
    """A mapping by names and units, corrected and completed by the figures; and by channel a sentence for what the figures said.

    Columns without units get the ones with which the figures fit together.
    """
    found, said = dict(guess(table, channels)), dict[str, str]()
    by_name = {channel.name: channel for channel in channels}
    stated = dict(zip(table.headers, table.units, strict=True))
    _power(table, found, said, stated)
    for name, column in list(found.items()):
        values = _column(table, column.header)
        told = _told(name, values, column, bool(stated.get(column.header)), by_name[name])
        if told is not None:
            found[name], said[name] = told
    _pressure(table, found, said)
    _seconds(table, found, said, by_name)
    return found, said


def _column(table: Table, header: str) -> Array:
    return table.values[:, table.headers.index(header)]


def _si(values: Array, kind: str, symbol: str) -> Array:
    unit = units.unit_of(kind, symbol)
    return values * unit.factor + unit.offset


_TRIES = [
    (t, p, units.unit_of("torque", t).factor * units.unit_of("speed", "rpm").factor / units.unit_of("power", p).factor)
    for t in ("N·m", "lb-ft", "kgf·m")
    for p in ("kW", "hp", "PS", "W")
]
"""Units of torque and power, and what their product with rpm must be multiplied by."""


def _power(table: Table, found: Mapping, said: dict[str, str], stated: dict[str, str]) -> None:
    """Which column is torque × speed, and in which units: only one pair of units makes both agree."""
    if SPEED not in found or found[SPEED].unit != "rpm":
        return
    speed = _column(table, found[SPEED].header)
    for torque, power in _pairs(table, found):
        t, p = _column(table, torque), _column(table, power)
        good = np.isfinite(t) & np.isfinite(p) & np.isfinite(speed)
        good &= np.abs(p) > 0.2 * np.nanmax(np.abs(p), initial=0.0)
        if good.sum() < 8:
            continue
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            ratios = p[good] / (t[good] * speed[good])
        off = [(float(np.median(np.abs(ratios / factor - 1.0))), a, b) for a, b, factor in _TRIES]
        best = min(off)
        if not best[0] < IDENTITY:
            continue
        new = (MappedColumn(torque, best[1]), MappedColumn(power, best[2]))
        units_stated = bool(stated.get(torque)) and bool(stated.get(power))
        if (found.get(TORQUE), found.get(POWER)) != new and not (units_stated and _agree(found, torque, power)):
            found[TORQUE], found[POWER] = new
            said[POWER] = f"“{power}” is “{torque}” × speed, if it is {best[2]} of {best[1]}."
        return


def _agree(found: Mapping, torque: str, power: str) -> bool:
    """Whether both columns are mapped already: stated units are not overruled, the check of the pull says where they contradict."""
    return (
        found.get(TORQUE) is not None
        and found[TORQUE].header == torque
        and found.get(POWER) is not None
        and found[POWER].header == power
    )


def _pairs(table: Table, found: Mapping) -> Iterator[tuple[str, str]]:
    """Torque and power as mapped; where one of them is not, each column that nothing else took in its place."""
    taken = {column.header for name, column in found.items() if name not in (TORQUE, POWER)}
    free = [h for h in table.headers if h not in taken][:24]
    torques = [found[TORQUE].header] if TORQUE in found else free
    powers = [found[POWER].header] if POWER in found else free
    return ((t, p) for t in torques for p in powers if t != p)


def _told(
    name: str, values: Array, column: MappedColumn, stated: bool, channel: Sought
) -> tuple[MappedColumn, str] | None:
    """What the figures of one column say against its unit, where nobody stated it (a mixture's unit is told by its figures alone)."""
    finite = values[np.isfinite(values)]
    if finite.size < 8:
        return None
    middle, most = float(np.median(finite)), float(np.quantile(finite, 0.98))
    if base_of(name) == MIXTURE:
        unit = AFR if middle > 5.0 else "λ"
        said = f"About {middle:.3g}: that is {'air to fuel' if unit == AFR else 'λ'}."
    elif stated or channel.kind not in _BY_SIZE:
        return None
    else:
        unit = _BY_SIZE[channel.kind](channel.name, middle, most) or column.unit
        said = f"Up to {most:.3g}: that is {unit}."
    return (replace(column, unit=unit), said) if unit != column.unit else None


def _share(name: str, middle: float, most: float) -> str:
    return "of one" if most <= 1.5 else ""


def _warmth(name: str, middle: float, most: float) -> str:
    if name == EXHAUST:
        return ""
    return "°C" if middle < 135.0 else "°F" if middle < 250.0 else "K"


def _squeeze(name: str, middle: float, most: float) -> str:
    if most < 6.0:
        return "bar"
    if most < 60.0 and name != ABSOLUTE:
        return "psi"
    return "kPa" if most < 700.0 else "hPa"


_BY_SIZE = {"percent": _share, "temperature": _warmth, "pressure": _squeeze}
"""By kind of quantity: the unit that the size of its figures tells."""


def _pressure(table: Table, found: Mapping, said: dict[str, str]) -> None:
    """A pressure at the manifold that goes near nought or below is gauge, one that never does is absolute."""
    for name, other in ((GAUGE, ABSOLUTE), (ABSOLUTE, GAUGE)):
        if name not in found or other in found:
            continue
        values = _si(_column(table, found[name].header), "pressure", found[name].unit)
        finite = values[np.isfinite(values)]
        if finite.size < 8:
            continue
        least = float(np.quantile(finite, 0.01))
        is_absolute = least > ABSOLUTE_LEAST
        if name == GAUGE and is_absolute:
            found[other] = found.pop(name)
            said[other] = (
                f"It never falls below {least / 1e3:.0f} kPa: that is absolute. Choose “{GAUGE}” if it is not."
            )
        elif name == ABSOLUTE and least < 5e3:
            found[other] = found.pop(name)
            said[other] = f"It falls to {least / 1e3:.0f} kPa: that is against the air around."
        elif name == GAUGE and least > 25e3:
            said[name] = f"It never falls below {least / 1e3:.0f} kPa: absolute or gauge? The figures do not tell."


def _seconds(table: Table, found: Mapping, said: dict[str, str], by_name: dict[str, Sought]) -> None:
    """A column that rises evenly by less than a second a row is time, where no name says so."""
    if TIME not in by_name:
        return
    if TIME in found:
        column = found[TIME]
        steps = np.diff(_column(table, column.header))
        steps = steps[np.isfinite(steps)]
        if steps.size < 8 or (steps > 0).mean() < 0.9:
            del found[TIME]
        elif column.unit == "s" and float(np.median(steps)) >= 5.0:
            found[TIME] = replace(column, unit="ms")
            said[TIME] = f"It rises by {np.median(steps):.0f} a row: that is ms."
        return
    taken = {column.header for column in found.values()}
    for header in table.headers:
        if header in taken:
            continue
        steps = np.diff(_column(table, header))
        if (
            steps.size >= 8
            and np.isfinite(steps).all()
            and (steps > 0).all()
            and np.ptp(steps) <= 0.02 * float(np.median(steps)) <= 0.02
        ):
            found[TIME] = MappedColumn(header, "s")
            said[TIME] = f"“{header}” rises evenly by {np.median(steps):.3g} a row: that is time."
            return
