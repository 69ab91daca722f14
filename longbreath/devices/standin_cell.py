"""A stand-in cell: one made engine on a roller with inertia and brake, seen by a dyno, a logger and a weather station.

Commands, one a line: `pull`, `stop`, `part B`, `setting 1`, `engine turbo`, `fault creep` (see `FAULTS`), `fault none`,
`line silent|garbage|flood|well` and `unplug 3` (of the instrument that is spoken to), `seed 7`. All figures are invented.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.devices import made_engine
from longbreath.devices.cell_line import write_cell_line
from longbreath.devices.made_engine import Channels, Day, Engine
from longbreath.devices.made_torque import BEDS, Bed
from longbreath.devices.standin import LINE_FAULTS, STAND_IN, WELL

RADIUS = 0.25
"""Radius of the roller [m]."""
GROWING = ("heat soak", "fading coil")
"""Faults that show over several pulls."""
FAULTS = ("none", *made_engine.FAULTS, *GROWING, "clock")
KEPT_SECONDS = 30.0
IDLE_RPM, ROLL_ON, HELD, COAST = 880.0, 2.0, 1.5, 4.0
CLOCK_OFF = 0.03
"""Share by which a logger's clock that runs off is too fast."""

DYNO_WORDS = {
    "rpm": ("speed", RPM, 0.0),
    "roller": ("roller", RPM, 0.0),
    "torque": ("torque", 1.0, 0.0),
    "power": ("power", 1e3, 0.0),
}
LOGGER_WORDS = {
    "rpm": ("speed", RPM, 0.0),
    "mixture": ("mixture", 1.0, 0.0),
    "map": ("manifold", 1e3, 0.0),
    "turbine": ("turbine", 1e3, 0.0),
    "duty": ("duty", 0.01, 0.0),
    "throttle": ("throttle", 0.01, 0.0),
    "intake": ("intake", 1.0, 273.15),
    "charge": ("charge", 1.0, 273.15),
    "coolant": ("coolant", 1.0, 273.15),
    "oil": ("oil", 1.0, 273.15),
    "exhaust": ("exhaust", 1.0, 273.15),
    "knock": ("knock", 1.0, 0.0),
    "injector": ("injector", 1e-3, 0.0),
    "fuel_pressure": ("fuelpressure", 1e3, 0.0),
    "battery": ("battery", 1.0, 0.0),
    "air_flow": ("airflow", 1e-3, 0.0),
    "fuel_flow": ("fuelflow", 1e-3, 0.0),
}
"""What each instrument says of a made channel: its word, the factor to SI and what is added."""


@dataclass
class SimulatedCell:
    """The engine, its day and its faults; frames of all channels as time goes on.

    pace: seconds of the engine in a second of the clock on the wall.
    """

    bed: str = "heron"
    part: str = "A"
    setting: int = 0
    seed: int = 7
    pace: float = 1.0
    room: float = 100.6
    fault: str = "none"
    pulls: int = 0
    beds: Mapping[str, Bed] = field(default_factory=lambda: BEDS)
    day: Day = field(default_factory=Day)

    def __post_init__(self) -> None:
        self._lock = threading.RLock()
        self._began = time.monotonic()
        self._made = 0
        self._queue: list[Channels] = []
        self._frames: list[tuple[float, dict[str, float]]] = []
        self._since_fault = 0
        self.pulling = False

    @property
    def engine(self) -> Engine:
        """The engine as it stands."""
        bed = self.beds[self.bed]
        return bed.engine(self.part, min(self.setting, len(bed.settings) - 1))

    def frames(self, now: float, after: float) -> list[tuple[float, dict[str, float]]]:
        """What happened until a moment on the wall [s, monotonic], after a time of the engine [s]: its time and its channels."""
        with self._lock:
            until = (now - self._began) * self.pace
            rate = self.engine.rate
            while self._made / rate <= until:
                if not self._queue:
                    self._queue.append(self._idle())
                    self.pulling = False
                self._play(rate)
            self._frames = [f for f in self._frames if f[0] > until - KEPT_SECONDS]
            return [f for f in self._frames if after < f[0] <= until]

    def _play(self, rate: float) -> None:
        made = self._queue.pop(0)
        names = [name for name in made if name != "time"]
        for row in range(made["rpm"].size):
            self._frames.append((self._made / rate, {name: float(made[name][row]) for name in names}))
            self._made += 1

    def _idle(self) -> Channels:
        like = made_engine.pull(self.engine, self.seed, self.day)
        return made_engine.held(like, IDLE_RPM, 0.4, self.engine, np.random.default_rng(self._made), 0.0)

    def pull(self) -> str:
        """Have the engine pulled through once: rolled on, held, pulled, let coast."""
        with self._lock:
            if self.pulling:
                return "it is being pulled"
            self.pulls += 1
            self.pulling = True
            rng, engine = np.random.default_rng(self.seed + 1000 * self.pulls), self.engine
            made = self.made()
            self._queue = [
                made_engine.between(made, IDLE_RPM, engine.low, ROLL_ON, engine, rng, 0.12),
                made_engine.held(made, engine.low, HELD, engine, rng, 0.15),
                made,
                made_engine.between(made, float(made["rpm"][-1]), IDLE_RPM, COAST, engine, rng, -0.06),
            ]
            return "pulled"

    def made(self) -> Channels:
        """The next pull, with what is wrong."""
        day, fault = self.day, self.fault
        since = self.pulls - self._since_fault
        if fault == "heat soak":
            day = Day(day.intake + 5.0 * since, day.coolant + 2.5 * since, day.oil + 4.0 * since, day.room, day.battery)
        named = (fault,) if fault in made_engine.FAULTS else ()
        made = made_engine.pull(self.engine, self.seed + self.pulls, day, *named)
        if fault in GROWING:
            made["torque"] = made["torque"] * (1.0 - (0.012 if fault == "heat soak" else 0.02) * since)
            made["power"] = made["torque"] * made["rpm"] * np.pi / 30.0 / 1000.0
        return made

    def take(self, words: str) -> str:
        """Carry out a command; the answer for people."""
        name, _, value = words.strip().partition(" ")
        with self._lock:
            if name == "pull":
                return self.pull()
            if name == "stop":
                self._queue, self.pulling = [], False
                return "stopped"
            chosen: tuple[str, Callable[[str], object], Callable[[str], bool]] | None = {
                "part": ("part", str, lambda v: v.isalpha() and len(v) <= 2),
                "setting": ("setting", int, lambda v: v.isdigit() and int(v) < len(self.beds[self.bed].settings)),
                "engine": ("bed", str, lambda v: v in self.beds),
                "fault": ("fault", str, lambda v: v in FAULTS),
                "seed": ("seed", int, lambda v: v.isdigit() and len(v) < 8),
            }.get(name)
            if chosen is None or not chosen[2](value):
                return f"not understood: {words[:40]}"
            setattr(self, chosen[0], chosen[1](value))
            self._since_fault = self.pulls if name == "fault" else self._since_fault
            return f"{name} {value}"


@dataclass
class Instrument:
    """One instrument of the cell as the line sees it. kind: dyno, logger or weather."""

    kind: str
    cell: SimulatedCell
    line: str = WELL
    unplugged_until: float = 0.0

    @property
    def name(self) -> str:
        """What it calls itself."""
        return f"{STAND_IN} {self.kind}"

    @property
    def rate(self) -> float:
        """How often it speaks [Hz]."""
        return 2.0 if self.kind == "weather" else 25.0

    def speaker(self) -> Callable[[float], bytes]:
        """For one connection: its lines at a moment [s, monotonic]."""
        after = (time.monotonic() - self.cell._began) * self.cell.pace

        def say(now: float) -> bytes:
            nonlocal after
            if self.kind == "weather":
                return self._weather(now)
            frames = self.cell.frames(now, after)
            if frames:
                after = frames[-1][0]
            return b"".join(self._told(at, frame) for at, frame in frames)

        return say

    def _weather(self, now: float) -> bytes:
        slow = 0.15 * np.sin(now / 200.0)
        air = {
            "temperature": 273.15 + self.cell.day.intake - 1.0 + slow,
            "pressure": self.cell.room * 1e3,
            "humidity": 0.46,
        }
        return write_cell_line("weather", air)

    def _told(self, at: float, frame: dict[str, float]) -> bytes:
        return write_cell_line(self.kind, self.values(at, frame))

    def values(self, at: float, frame: dict[str, float]) -> dict[str, float]:
        """What it says of a frame, by word [SI]."""
        if self.kind == "dyno":
            values = {word: frame[name] * factor + more for name, (word, factor, more) in DYNO_WORDS.items()}
            ratio = values["speed"] / values["roller"] if values["roller"] > 0 else 0.0
            return {"time": at, **values, "force": values["torque"] * ratio / RADIUS}
        fast = 1.0 + CLOCK_OFF if self.cell.fault == "clock" else 1.0
        values = {
            word: max(0.0, frame[name] * factor + more)
            for name, (word, factor, more) in LOGGER_WORDS.items()
            if name in frame
        }
        return {"time": at * fast, **values}

    def take(self, words: str) -> str:
        """A command for its own line, or for the engine."""
        name, _, value = words.strip().partition(" ")
        if name == "line" and value in LINE_FAULTS:
            self.line = value
            return words
        if name == "unplug":
            try:
                self.unplugged_until = time.monotonic() + min(600.0, float(value or 3))
            except ValueError:
                return f"not understood: {words[:40]}"
            return words
        return self.cell.take(words)
