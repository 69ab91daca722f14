"""One live run as its gateway follows it: lines gathered, kept, watched for a pull; the pull recorded when it is over."""

from __future__ import annotations

import json
import logging
import threading
import time
import zlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from sqlalchemy import delete, insert, select, update
from sqlalchemy.exc import SQLAlchemyError

from longbreath.core.basis.errors import LongBreathError
from longbreath.core.pull.live import OVER, RISING, Seen, Stream, clock_off, watch
from longbreath.core.pull.pulls import Array
from longbreath.core.pull.ramps import Stretch
from longbreath.devices.kinds import DYNO, LOGGER, WEATHER
from longbreath.devices.status import Sample
from longbreath.dossier.events import PullsChanged, say
from longbreath.dossier.pull.live import OF_FORCE, Capture, capture_of, record_live, run_of, with_torque
from longbreath.store.database import Database
from longbreath.store.models import CellBlock, CellRun, Dyno, User
from longbreath.store.models.cell import IDLE, JUDGING, PULLING
from longbreath.store.notices import LINES, tell
from longbreath.store.unit_of_work import UnitOfWork, working

Row = tuple[float, dict[str, float]]
"""A line: when it came [s since 1970], values by word [SI]."""

LOOK_EVERY = 0.15
"""Seconds between two looks for a pull."""
KEPT_SECONDS = 90.0
"""Lines that are watched; a pull with what goes before and after it is shorter."""
AIR_HOLDS = 60.0
"""Seconds for which a reading of the weather station holds."""
HELD_SECONDS = 800.0
"""Lines that are held at most while the database is away."""
LEAST_SHARE = 0.4
"""A pull rises over this share of the band of use at least: less is a blip."""
AGAIN = 1.0
VERDICT_FIRST = 1.0
"""Seconds for which the weighing of the day waits, so that the verdict on the pull is on the screens before it."""

_log = logging.getLogger(__name__)


@dataclass
class _Heard:
    """Lines of one instrument, oldest first; up to which moment they are kept in the database."""

    rows: list[Row] = field(default_factory=list)
    kept_to: float = 0.0


class CellWatch:
    """Follows one live run. `taken`: samples of its lines come in by `take`; `turn` looks; a thread of its own records."""

    def __init__(self, database: Database, run: CellRun) -> None:
        self._database, self.run_id = database, run.id
        vehicle = run.session.application_vehicle
        self._least = LEAST_SHARE * (vehicle.band_end - vehicle.band_low)
        self._dyno_id = run.dyno_id
        self._heard: dict[str, _Heard] = {role: _Heard() for role in (DYNO, LOGGER, WEATHER)}
        self.dealt_to = run.recorded_to
        self._looked, self._phase, self._armed = 0.0, run.phase, run.armed_place is not None
        self._recording: threading.Thread | None = None
        self._dyno: Dyno | None = None
        self.stand_in = False

    def load(self, work: UnitOfWork) -> None:
        """Take up what an earlier gateway kept and did not come to record."""
        blocks = work.scalars(select(CellBlock).where(CellBlock.run_id == self.run_id).order_by(CellBlock.id))
        for block in blocks:
            rows = [(at, values) for at, values in json.loads(zlib.decompress(block.lines)) if at > self.dealt_to]
            heard = self._heard[block.role]
            heard.rows += rows
            heard.kept_to = max(heard.kept_to, block.last_at)

    def take(self, role: str, samples: Sequence[Sample[Any]], ahead: float) -> None:
        """Lines that came in. ahead: what the clock of the database is ahead of that of the samples [s]."""
        heard = self._heard[role]
        heard.rows += [(sample.at + ahead, dict(sample.line.values)) for sample in samples]
        newest = heard.rows[-1][0] if heard.rows else 0.0
        oldest = max(min(newest - KEPT_SECONDS, heard.kept_to), newest - HELD_SECONDS)
        if heard.rows and heard.rows[0][0] < oldest - KEPT_SECONDS:
            heard.rows = [row for row in heard.rows if row[0] >= oldest]

    def keep(self, work: UnitOfWork) -> Callable[[], None]:
        """Write what came in since; what is returned is called once it is committed."""
        moments = {}
        for role, heard in self._heard.items():
            fresh = [row for row in heard.rows if row[0] > heard.kept_to]
            if fresh:
                lines = zlib.compress(json.dumps(fresh).encode(), 1)
                values = {"run_id": self.run_id, "role": role, "last_at": fresh[-1][0], "lines": lines}
                work.execute(insert(CellBlock).values(**values))
                moments[role] = fresh[-1][0]
        passed = max(self.dealt_to, max(moments.values(), default=0.0) - KEPT_SECONDS * 2)  # no pull lasts so long
        done = [CellBlock.run_id == self.run_id, CellBlock.last_at < passed]
        work.execute(delete(CellBlock).where(*done))

        def kept() -> None:
            for role, moment in moments.items():
                self._heard[role].kept_to = moment

        return kept

    @property
    def is_recording(self) -> bool:
        """Whether a pull is being recorded just now."""
        return self._recording is not None and self._recording.is_alive()

    def turn(self, work: UnitOfWork) -> None:
        """Look at what came in, and act on it."""
        if self.is_recording or time.monotonic() - self._looked < LOOK_EVERY:
            return
        self._looked = time.monotonic()
        rows = _since_restart([row for row in self._heard[DYNO].rows if row[0] > self.dealt_to])
        stream = self._stream(work, rows)
        if stream is None:
            return
        seen = watch(stream, self._least)
        if seen.state == OVER and seen.stretch is not None:
            self._over(work, rows, seen.stretch)
        else:
            self._say(work, seen)

    def _say(self, work: UnitOfWork, seen: Seen) -> None:
        phase = PULLING if seen.state == RISING else IDLE
        if phase != self._phase:
            self._phase = phase
            self._write(work, phase=phase)

    def _over(self, work: UnitOfWork, rows: list[Row], stretch: Stretch) -> None:
        run = work.get_one(CellRun, self.run_id, populate_existing=True)
        ends = rows[stretch.last][0]
        if run.armed_place is None or run.armed_at > ends:  # armed once it was over: meant for the next one
            self._phase, self.dealt_to = IDLE, ends
            words = "A pull was seen that was not armed: it is not recorded. Arm before the next one."
            self._write(work, phase=IDLE, recorded_to=ends, words=words)
            return
        capture = self._capture(rows, stretch)
        self._phase = JUDGING
        work.execute(update(CellRun).where(CellRun.id == self.run_id).values(phase=JUDGING))
        kept = self.keep(work)  # whole, whatever befalls this gateway while it records
        work.commit()  # no screen is told: the verdict comes in a moment, and they would all ask twice
        kept()
        self._recording = threading.Thread(target=self._record, args=(capture, ends), name=f"records run {self.run_id}")
        self._recording.start()

    def _capture(self, rows: list[Row], stretch: Stretch) -> Capture:
        weather = self._heard[WEATHER].rows
        fresh = weather and rows[stretch.last][0] - weather[-1][0] < AIR_HOLDS
        return capture_of(rows, stretch, self._heard[LOGGER].rows, weather[-1][1] if fresh else {}, self.clocks())

    def clocks(self) -> dict[str, float]:
        """The share by which each instrument's clock runs off; a stand-in may be run faster than time: beside it, others are seen
        against its own."""
        found = {}
        for role in (DYNO, LOGGER):
            timed = [(at, values["time"]) for at, values in self._heard[role].rows if "time" in values]
            if len(timed) > 20:
                arrived, device = np.array(timed).T
                off = clock_off(*_latest(device, arrived))
                if off is not None:
                    found[role] = off
        pace = 1.0 + found[DYNO] if self.stand_in and DYNO in found else 1.0
        return {role: round((1.0 + off) / pace - 1.0, 5) for role, off in found.items()}

    def _stream(self, work: UnitOfWork, rows: list[Row]) -> Stream | None:
        if self._dyno is None:
            self._dyno = work.get_one(Dyno, self._dyno_id)
            work.expunge(self._dyno)
        told, _ = with_torque([values for _, values in rows], self._dyno)
        names = {word for values in told for word in values}
        torque = "torque" if "torque" in names else OF_FORCE.word
        if len(rows) < 20 or not {"time", "speed", torque} <= names:
            return None
        time_, speed, load = (_column(told, word) for word in ("time", "speed", torque))
        logger = [(at, values["throttle"]) for at, values in self._heard[LOGGER].rows if "throttle" in values]
        throttle = None
        if logger and rows[-1][0] - logger[-1][0] < 0.5:
            at, share = np.array(logger).T
            moments = np.array([row[0] for row in rows])
            throttle = np.interp(moments, at, share)
        return Stream(time_, speed, load, throttle)

    def _write(self, work: UnitOfWork, **values: Any) -> None:
        work.execute(update(CellRun).where(CellRun.id == self.run_id).values(turn=CellRun.turn + 1, **values))
        tell(work, LINES, f"run {self.run_id}")

    def _record(self, capture: Capture, ends: float) -> None:
        """Record until it is done; a database that is away is waited for."""
        while True:
            try:
                session_id = self._recorded(capture, ends)
                self.dealt_to = ends
                break
            except LongBreathError as error:
                words = f"The pull could not be recorded: {error.message}"
                self.dealt_to = ends
                with working(self._database.session) as work:
                    self._write(work, phase=IDLE, recorded_to=ends, words=words, armed_place=None, armed_label="")
                return
            except SQLAlchemyError as error:
                _log.warning("a pull waits for the database: %s", type(error).__name__)
                time.sleep(AGAIN)
        time.sleep(VERDICT_FIRST)
        try:
            with working(self._database.session) as work:
                run = run_of(work, self.run_id)
                work.act_as(work.get(User, run.opened_by_id), session_id)
                say(work, PullsChanged(run.session))
        except (SQLAlchemyError, LongBreathError) as error:
            _log.warning("the verdict is made anew later: %s", error)

    def _recorded(self, capture: Capture, ends: float) -> int:
        """The pull and that the lines are dealt with, in one transaction: nothing is recorded twice, and nothing half."""
        with working(self._database.session) as work:
            run = run_of(work, self.run_id)
            if run.recorded_to >= ends or run.armed_place is None or run.armed_at > ends:
                return run.session.application_id
            work.act_as(work.get(User, run.armed_by_id or run.opened_by_id), run.session.application_id)
            pull = record_live(work, run.session, capture, run.armed_label, run.armed_place)
            run.recorded_to, run.phase, run.words = ends, IDLE, capture.remark
            run.armed_place, run.armed_label, run.clocks = None, "", dict(capture.clocks)
            run.turn += 1
            tell(work, LINES, f"run {self.run_id} pull {pull.id}")
            self._phase = IDLE
            return run.session.application_id


def _since_restart(rows: list[Row]) -> list[Row]:
    """Rows since the device's clock last began anew: before that it spoke of another time."""
    times = [values.get("time", 0.0) for _, values in rows]
    starts = [k for k in range(1, len(rows)) if times[k] < times[k - 1]]
    return rows[starts[-1] :] if starts else rows


def _column(rows: Sequence[Mapping[str, float]], word: str) -> Array:
    return np.array([row.get(word, np.nan) for row in rows], dtype=np.float64)


def _latest(device: Array, arrived: Array) -> tuple[Array, Array]:
    """From the last time on that the device's clock began anew, or its line came back."""
    breaks = np.flatnonzero((np.diff(device) < 0) | (np.diff(arrived) > 1.5))
    since = int(breaks[-1]) + 1 if breaks.size else 0
    return device[since:], arrived[since:]
