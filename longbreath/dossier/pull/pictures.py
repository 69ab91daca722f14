"""What pictures of a pull are drawn from: a channel beside those of its set, a log with what was found in it."""

from __future__ import annotations

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.pull.channels import CHANNELS, POWER, SPEED, TIME, TORQUE, base_of, label_of
from longbreath.dossier.pull.chosen import WaitingSource
from longbreath.dossier.records.sessions import channels_of
from longbreath.drawing.logview import Curve, LogPiece
from longbreath.formats.pull_read import columns_of
from longbreath.formats.table import Table
from longbreath.store.models import Channel, Pull

WHOLE = 0.9
"""A pull that takes this share of the rows is the whole log."""
MOST_BESIDE = 8
"""Other pulls of the letter that are drawn beside one."""


def channel_names(db: Session, pull: Pull) -> list[tuple[str, str, str, float | None]]:
    """Name, label, what the source calls it, and its rate [Hz], of each channel of a pull but speed and time."""
    query = (
        select(Channel.name, Channel.label, Channel.rate).where(Channel.reading_id == pull.read.id).order_by(Channel.id)
    )
    return [(name, label_of(name), own, rate) for name, own, rate in db.execute(query) if name not in (SPEED, TIME)]


def channel_curves(db: Session, pull: Pull, name: str, system: str) -> tuple[list[Curve], str]:
    """A channel of a pull over speed [rpm] and those of the others of its letter, in display units; and the unit's symbol."""
    others = [p for p in pull.session.full_pulls if p.label == pull.label and p.is_valid and p.id != pull.id]
    found = channels_of(db, [pull, *others[-MOST_BESIDE:]], (SPEED, name))
    kind = (
        db.scalar(select(Channel.kind).where(Channel.reading_id == pull.read.id, Channel.name == name)) or "as logged"
    )
    known = kind in units.KINDS
    symbol = units.kind_named(kind).symbol(system) if known else ""
    curves = []
    for number, channels in found.items():
        if name not in channels or SPEED not in channels:
            continue
        values = channels[name]
        if known:
            unit = units.unit_of(kind, symbol)
            values = (values - unit.offset) / unit.factor
        curves.append(Curve(channels[SPEED] / RPM, values, number == pull.id))
    return curves, symbol


def preview_curves(source: WaitingSource, system: str) -> tuple[list[Curve], str, str]:
    """Torque of each pull of a source that waits over speed [rpm], in display units, as its mapping reads it (else power, or the
    first channel that is mapped); its label and the unit's symbol."""
    wanted = next((n for n in (TORQUE, POWER, *source.chosen) if n in source.chosen and n not in (SPEED, TIME)), "")
    if not wanted or source.is_unreadable:
        return [], "", ""
    kind = CHANNELS[base_of(wanted)].kind
    symbol = units.kind_named(kind).symbol(system)
    unit, curves = units.unit_of(kind, symbol), []
    for part in [p for p in source.parts if p.stretch.kind == "sweep"][:24]:
        speed, values = (_column(source, part.table.table, name) for name in (SPEED, wanted))
        if speed is None or values is None:
            continue
        rows = slice(part.stretch.first, part.stretch.last + 1)
        curves.append(Curve(speed[rows] / RPM, (values[rows] - unit.offset) / unit.factor, True))
    return curves, label_of(wanted), symbol


def log_pieces(source: WaitingSource) -> list[tuple[str, np.ndarray, list[LogPiece], np.ndarray | None]]:
    """Each table of a source: its name, speed [rpm] over its rows, the stretches found, time [s] if it has one."""
    by_table: dict[tuple[int, int], list[LogPiece]] = {}
    names: dict[tuple[int, int], str] = {}
    tables = {}
    for number, part in enumerate(source.parts, start=1):
        key = (part.file.id, part.number)
        is_pull = part.stretch.kind == "sweep"
        by_table.setdefault(key, []).append(LogPiece(part.stretch.first, part.stretch.last, str(number), is_pull))
        names[key] = part.file.filename + (f", {part.table.name}" if part.table.name else "")
        tables[key] = part.table.table
    found = []
    for key, pieces in by_table.items():
        speed, time = (_column(source, tables[key], name) for name in (SPEED, TIME))
        if speed is not None:
            found.append((names[key], speed / RPM, pieces, time))
    return found


LogPicture = tuple[str, np.ndarray, list[LogPiece], np.ndarray | None]


def several_in(source: WaitingSource) -> list[LogPicture]:
    """The logs of a source that hold more than one whole pull: those are worth a picture of their own."""
    return [
        (name, speed, pieces, time)
        for name, speed, pieces, time in log_pieces(source)
        if len(pieces) > 1 or pieces[0].last - pieces[0].first < WHOLE * speed.size
    ]


def _column(source: WaitingSource, table: Table, name: str) -> np.ndarray | None:
    try:
        return columns_of(table, source.readable).channels.get(name)
    except InputError:
        return None
