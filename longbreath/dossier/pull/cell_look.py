"""What a cell's instruments say at a moment, as the gateway passes it on: how each line stands, newest values, torque over speed."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import datetime

from sqlalchemy import func, select

from longbreath.devices.kinds import DYNO, KINDS, LOGGER, WEATHER
from longbreath.devices.status import CONNECTING, LIVE, LOST, SILENT
from longbreath.dossier.instruments import NO_GATEWAY, TOLD_WITHIN
from longbreath.dossier.pull.cell import ROLES, Heard, addresses_of
from longbreath.dossier.pull.live import OF_FORCE, with_torque
from longbreath.store.models import CellRun, Dyno, DynoSession, InstrumentLine, InstrumentSample
from longbreath.store.unit_of_work import UnitOfWork

FRESH = 3.0
"""Seconds for which the newest value of a line is shown."""
GARBLED = 0.05
"""Share of a line's sentences that may be garbled before it is said."""


@dataclass(frozen=True)
class LineState:
    """How the line of one instrument stands: connecting, live, silent or lost; a sentence; lines that could not be read;
    whether a stand-in answers."""

    role: str
    state: str
    words: str
    refused: int = 0
    stand_in: bool = False


@dataclass(frozen=True)
class Course:
    """Points of a pull: when each came [s], engine speed [rad/s], torque [N m]."""

    at: tuple[float, ...] = ()
    speed: tuple[float, ...] = ()
    torque: tuple[float, ...] = ()


@dataclass(frozen=True)
class CellLook:
    """A cell at one moment: lines by role, newest values by word [SI], the dyno's course since a moment, and how the run stands."""

    now: float
    lines: Mapping[str, LineState]
    values: Mapping[str, float]
    course: Course
    phase: str = "idle"
    turn: int = 0
    words: str = ""
    is_open: bool = True

    @property
    def heard(self) -> Heard:
        """What of it decides what is next."""
        temperatures = {k: self.values[k] for k in ("coolant", "oil", "intake", "exhaust") if k in self.values}
        dyno = self.lines.get(DYNO)
        return Heard(temperatures, dyno.words if dyno is not None and dyno.state in (SILENT, LOST) else "")


@dataclass(frozen=True)
class CellEyes:
    """Looks at the cell of a live run; each look is a short transaction of its own. `refused` remembers what was garbled before."""

    sessions: Callable[[], UnitOfWork]
    run_id: int
    addresses: Mapping[str, str]
    dyno: Dyno
    refused: dict[str, tuple[float, int]] = field(default_factory=dict)

    def look(self, since: float | None = None, back: float = 20.0) -> CellLook:
        """The cell now. since: moment [s] after which the dyno's course is wanted; None: the last `back` seconds."""
        with self.sessions() as work:
            now: datetime = work.execute(select(func.clock_timestamp())).scalar_one()
            moment = now.timestamp()
            run = work.execute(
                select(CellRun.phase, CellRun.turn, CellRun.words, CellRun.closed_at).where(CellRun.id == self.run_id)
            ).one()
            rows = work.scalars(select(InstrumentLine).where(InstrumentLine.address.in_(self.addresses.values()))).all()
            by_address = {row.address: row for row in rows}
            lines, values, course = {}, dict[str, float](), Course()
            for role, address in self.addresses.items():
                line = by_address.get(address)
                lines[role] = self._state(role, line, now)
                if line is None:
                    continue
                after = (since if since is not None else moment - back) if role == DYNO else moment - FRESH
                found = self._samples(work, line.id, min(after, moment - FRESH) if role == DYNO else after)
                if found and moment - found[-1][0] < FRESH:
                    values = {**found[-1][1], **values}
                if role == DYNO:
                    course = self._course([row for row in found if row[0] > after])
        return CellLook(moment, lines, values, course, run.phase, run.turn, run.words, run.closed_at is None)

    def _samples(self, work: UnitOfWork, line_id: int, after: float) -> list[tuple[float, dict[str, float]]]:
        query = select(InstrumentSample.at, InstrumentSample.spoken).where(
            InstrumentSample.line_id == line_id, InstrumentSample.at > after
        )
        return [(at, spoken) for at, spoken in work.execute(query.order_by(InstrumentSample.at)).all()]

    def _course(self, rows: list[tuple[float, dict[str, float]]]) -> Course:
        told, _ = with_torque([values for _, values in rows], self.dyno)
        points = [
            (at, values["speed"], values.get("torque", values.get(OF_FORCE.word)))
            for (at, _), values in zip(rows, told, strict=True)
            if "speed" in values
        ]
        known = [(at, speed, torque) for at, speed, torque in points if torque is not None]
        return Course(*zip(*known, strict=True)) if known else Course()

    def _state(self, role: str, line: InstrumentLine | None, now: datetime) -> LineState:
        called = KINDS[role].called
        if line is None or line.told_at is None or now - line.told_at > TOLD_WITHIN:
            if line is not None and now - line.began_at < TOLD_WITHIN:
                return LineState(role, CONNECTING, f"Looking for the {called}.")
            return LineState(role, LOST if line is not None else CONNECTING, NO_GATEWAY if line is not None else "")
        words, state = line.words, line.state
        before = self.refused.setdefault(role, (now.timestamp(), line.refused))
        if now.timestamp() - before[0] > 2.0:
            share = (line.refused - before[1]) / max(1.0, (now.timestamp() - before[0]) * 25.0)
            self.refused[role] = (now.timestamp(), line.refused)
            self.refused[f"{role} share"] = (share, 0)
        garbled = self.refused.get(f"{role} share", (0.0, 0))[0]
        if state == LIVE and garbled > GARBLED:
            words = f"{garbled:.0%} of what the {called} sends cannot be read. Look at its cable."
        return LineState(role, state, words, line.refused, "stand-in" in line.device)


def eyes_of(sessions: Callable[[], UnitOfWork], run: CellRun) -> CellEyes:
    """Eyes on the cell of a live run."""
    session: DynoSession = run.session
    order = {role: url for role, url in addresses_of(session).items() if role in ROLES}
    return CellEyes(sessions, run.id, order, session.card.dyno)


__all__ = ["LOGGER", "WEATHER", "CellEyes", "CellLook", "Course", "LineState", "eyes_of"]
