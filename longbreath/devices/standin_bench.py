"""A stand-in flow bench: motor, column that sags under a freer part, ranges, noise, leak, and the faults of a day.

It speaks the line protocol over TCP and takes commands, one a line: `motor 0.8` (share of full speed), `motor up`,
`range 3`, `range down`, `lift 4.0` (mm), `part B`, `shut` (valves shut, for a leak test),
`fault silent|blocked|garbage|none`, `unplug 3` (s). All figures are invented.
"""

from __future__ import annotations

import random
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from math import sqrt

from longbreath.core.basis.units import from_unit
from longbreath.devices.bench_line import BenchLine, write_bench_line
from longbreath.devices.standin import GARBAGE, LINE_FAULTS, SILENT, STAND_IN, WELL

INCH = from_unit(1.0, "column", "inH2O")
CFM = from_unit(1.0, "flow", "cfm")
PARTS = {"A": 1.0, "B": 1.045, "head": 1.12}
RANGES = {"1": 60.0, "2": 120.0, "3": 240.0, "4": 360.0}
_FULL_CFM, _HALF_LIFT_MM = 258.0, 6.4
MOTOR_INCHES = 46.0
SAG = 3.1e-4
LEAK_CFM = 1.2
RATE = 12.0
START = 0.70
"""Motor at its start, share of full speed."""
STEPS = {"up": 1.01, "down": 1 / 1.01, "much up": 1.25, "much down": 0.8}
"""What one press of a key makes of the column, whatever part sits on the bench and whatever pressure is asked."""
FAULTS = ("none", "blocked", *LINE_FAULTS)


@dataclass
class SimulatedBench:
    """The state of the bench and the arithmetic of its air."""

    motor: float = 0.0
    range_label: str = "4"
    lift: float = 1.0
    part: str = "A"
    shut: bool = False
    fault: str = "none"
    line: str = WELL
    name: str = f"{STAND_IN} bench"
    rate: float = RATE
    unplugged_until: float = 0.0
    column: float = 0.0
    seed: int = 7

    def __post_init__(self) -> None:
        self._random = random.Random(self.seed)
        self._lock = threading.Lock()

    def flow_at_28(self) -> float:
        """What the part flows at 28 inH2O [cfm], leak included."""
        if self.shut:
            return LEAK_CFM
        x = self.lift / _HALF_LIFT_MM
        return LEAK_CFM + _FULL_CFM * PARTS.get(self.part, 1.0) * x / float((1.0 + x**2.2) ** (1 / 2.2))

    def resting_column(self) -> float:
        """The column the motor holds on this part [inH2O]: full pressure, less what the flow takes off it."""
        full = MOTOR_INCHES * self.motor**2
        return full / (1.0 + SAG * self.flow_at_28() ** 2 / 28.0)

    def step(self, seconds: float) -> BenchLine:
        """Move on by some time and read."""
        with self._lock:
            target = self.resting_column()
            self.column += (target - self.column) * min(1.0, seconds / 0.35)
            noise = self._random.gauss
            column = max(0.0, self.column * (1 + noise(0, 0.0008)))
            flow = 0.0 if self.fault == "blocked" else self.flow_at_28() * sqrt(column / 28.0) * (1 + noise(0, 0.0012))
            share = min(1.15, flow / RANGES[self.range_label])
            return BenchLine(
                column * INCH,
                self.range_label,
                round(share, 4),
                inlet=293.2 + noise(0, 0.05),
                meter=296.0 + noise(0, 0.05),
            )

    def take(self, words: str) -> str:
        """Carry out a command; the answer for people."""
        name, _, value = words.strip().partition(" ")
        with self._lock:
            try:
                return self._commands()[name](value)
            except (KeyError, ValueError):
                return f"not understood: {words[:40]}"

    def _commands(self) -> dict[str, Callable[[str], str]]:
        return {
            "motor": lambda v: self._set("motor", self._motor(v)),
            "range": self._range,
            "lift": lambda v: self._set("lift", max(0.0, float(v))),
            "part": lambda v: self._set("part", v) if v in PARTS else "no such part",
            "shut": lambda v: self._set("shut", v != "no"),
            "fault": self._fault,
            "unplug": lambda v: self._set("unplugged_until", time.monotonic() + float(v or 3)),
        }

    def speaker(self) -> Callable[[float], bytes]:
        """For one connection: its reading at a moment [s, monotonic]."""
        last = time.monotonic()

        def say(now: float) -> bytes:
            nonlocal last
            line, last = self.step(now - last), now
            return write_bench_line(line)

        return say

    def _fault(self, value: str) -> str:
        """What is wrong: with a tube of the bench, or with its line."""
        if value not in FAULTS:
            return "no such fault"
        self.line = value if value in (SILENT, GARBAGE) else WELL
        return self._set("fault", value)

    def _motor(self, value: str) -> float:
        """The motor a step up or down (of column, on any part), or at a share of full speed; a motor at rest starts."""
        if value in STEPS:
            if self.motor == 0:
                return START
            return min(1.0, self.motor * sqrt(STEPS[value]))
        return min(1.0, max(0.0, float(value)))

    def _range(self, value: str) -> str:
        """The next larger or smaller range for "up" or "down", or the one named."""
        labels = list(RANGES)
        if value in ("up", "down"):
            place = labels.index(self.range_label) + (1 if value == "up" else -1)
            value = labels[min(len(labels) - 1, max(0, place))]
        return self._set("range_label", value) if value in RANGES else "no such range"

    def _set(self, name: str, value: object) -> str:
        setattr(self, name, value)
        return f"{name.replace('_label', '')} {value}"
