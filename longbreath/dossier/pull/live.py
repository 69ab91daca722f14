"""Recording a live pull: what the instruments said becomes files and a pull, judged like one that was taken in from a logger."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from longbreath.core.basis.errors import InputError
from longbreath.core.pull.channels import SPEED, TORQUE
from longbreath.core.pull.ramps import Stretch
from longbreath.core.pull.roller import torque_of_force
from longbreath.devices.cell_line import DIALECTS, channel_of
from longbreath.devices.kinds import DYNO, LOGGER
from longbreath.dossier.pull import naming, verbs
from longbreath.dossier.pull.twins import StandsAlready
from longbreath.formats.live_log import LiveColumn, live_log
from longbreath.formats.log import Part
from longbreath.formats.mapping import MappedColumn
from longbreath.formats.mapping import Mapping as Columns
from longbreath.store.models import Application, CellRun, Dyno, DynoSession, Pull, RawFile
from longbreath.store.unit_of_work import UnitOfWork

Rows = Sequence[Mapping[str, float]]
OF_FORCE = LiveColumn("torqueofforce", "torque", "N·m", 2, TORQUE)
"""Torque made of the force at the roller, where the dyno sends no torque."""


@dataclass(frozen=True)
class Capture:
    """What was said around one pull: lines of the dyno with the stretch that is the pull, lines of the logger [SI by word]; the share
    by which each clock runs off; the air by the weather station; what went wrong with a line."""

    dyno: Rows
    stretch: Stretch
    logger: Rows = ()
    clocks: Mapping[str, float] = field(default_factory=dict)
    weather: Mapping[str, float] = field(default_factory=dict)
    remark: str = ""


Timed = Sequence[tuple[float, Mapping[str, float]]]
"""Lines with the moment they came [s]."""
AROUND = (25, 15)
"""Rows of the dyno that are kept before and after the pull itself."""
BEFORE, AFTER = 2.5, 0.6
"""Seconds of the logger around the pull, for its clock to be laid on the dyno's."""
LEAST_ROWS = 20


def capture_of(
    dyno: Timed, stretch: Stretch, logger: Timed, air: Mapping[str, float], clocks: Mapping[str, float]
) -> Capture:
    """What was said around a pull, cut out of what was heard. stretch: rows of the dyno's lines that are the pull."""
    first, last = max(0, stretch.first - AROUND[0]), min(len(dyno) - 1, stretch.last + AROUND[1])
    began, ended = dyno[stretch.first][0] - BEFORE, dyno[stretch.last][0] + AFTER
    beside = [values for at, values in logger if began <= at <= ended]
    moved = Stretch(stretch.kind, stretch.first - first, stretch.last - first, stretch.low, stretch.high)
    is_there = len(beside) > LEAST_ROWS
    remark = "" if is_there else "The logger’s line was down."
    rows = [values for _, values in dyno[first : last + 1]]
    return Capture(rows, moved, beside if is_there else (), clocks, air, remark)


def columns_of(device: str, rows: Rows) -> list[LiveColumn]:
    """The columns of what a device said, in the order of its protocol."""
    said = {word for row in rows for word in row}
    dialect, found = DIALECTS[device], []
    for word in sorted(said, key=lambda w: (list(dialect.quantities).index(w.rstrip("23456789")), w)):
        spoken = dialect.spoken(word)
        if spoken is not None:
            found.append(LiveColumn(word, spoken.kind, spoken.unit, spoken.decimals, channel_of(word)))
    return found


def with_torque(rows: Rows, dyno: Dyno) -> tuple[Rows, bool]:
    """The dyno's lines with torque: as sent, or of the force at the roller where its radius is known; and whether it was made."""
    if any("torque" in row for row in rows) or not dyno.roller_radius:
        return rows, False
    radius = dyno.roller_radius
    made = [
        {**row, OF_FORCE.word: torque_of_force(row["force"], radius, row["roller"], row["speed"])}
        if {"force", "roller", "speed"} <= set(row) and row["speed"] > 0
        else row
        for row in rows
    ]
    return made, any(OF_FORCE.word in row for row in made)


def record_live(work: UnitOfWork, session: DynoSession, capture: Capture, label: str, place: int) -> Pull:
    """Record a live pull of a session: its files as sent, its channels, its checks.

    place: the one it was armed for; the next free one where that was taken meanwhile. Raises InputError where nothing can be made
    of what the dyno said.
    """
    application = work.get_one(Application, session.application_id)
    work.lock_row(session)
    work.refresh(session, ["pulls"])
    if any(pull.sequence == place for pull in session.pulls):
        place = next(naming.free_places(session))
    rows, made = with_torque(capture.dyno, session.card.dyno)
    source = _source(work, session, DYNO, f"pull-{place:02}-{label}-dyno.csv", rows, capture.stretch, made)
    logger = (
        _source(work, session, LOGGER, f"pull-{place:02}-{label}-logger.csv", capture.logger)
        if capture.logger
        else None
    )
    told = {
        "operator": work.actor.name,
        "smoothing_by_source": "none",
        "clocks": dict(capture.clocks),
        "weather": dict(capture.weather),
        "live": capture.remark,
    }
    new = verbs.NewPull(source, place, label, logger=logger, told=told)
    try:
        with work.savepoint():
            pull = verbs.record(work, application, new)
    except InputError as error:
        if logger is None or isinstance(error, StandsAlready):
            raise
        words = f"The logger’s lines could not be laid on the dyno’s: {error.message}"
        told["live"] = " ".join(filter(None, (capture.remark, words)))
        pull = verbs.record(work, application, replace(new, logger=None, told=told))
    work.expire(session, ["pulls", "files"])
    return pull


def _source(
    work: UnitOfWork,
    session: DynoSession,
    device: str,
    name: str,
    rows: Rows,
    stretch: Stretch | None = None,
    made_torque: bool = False,
) -> verbs.FileStretch:
    columns = columns_of(device, [{w: v for w, v in row.items() if w != OF_FORCE.word} for row in rows])
    if made_torque:
        columns.append(OF_FORCE)
    written = live_log(columns, [dict(row) for row in rows])
    file: RawFile = verbs.receive_live(work, session, name, written)
    mapping: Columns = {
        c.channel: MappedColumn(c.word, "λ" if c.channel.startswith("mixture") else c.unit)
        for c in columns
        if c.channel
    }
    if stretch is not None and SPEED not in mapping:
        raise InputError("The dyno said no engine speed.", "speed")
    part = Part(0, stretch.first, stretch.last) if stretch is not None else Part(0, 0, len(rows) - 1)
    return verbs.FileStretch(file, part, mapping)


def run_of(work: UnitOfWork, run_id: int) -> CellRun:
    """A live run, alone: whoever asks for it waits until this unit of work is done."""
    run = work.get_one(CellRun, run_id)
    work.lock_row(run)
    work.refresh(run)
    return run
