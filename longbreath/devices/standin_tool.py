"""A stand-in hand tool: it sends a reading when its key is pressed.

Commands: `press 57.15` (in its unit), `press`, `line silent|garbage|flood|well`, `unplug 3`.
"""

from __future__ import annotations

import math
import random
import time
from collections.abc import Callable
from dataclasses import dataclass, field

from longbreath.core.basis.units import from_unit
from longbreath.devices.cell_line import TOOL, write_cell_line
from longbreath.devices.standin import LINE_FAULTS, STAND_IN, WELL

TOOLS = {
    "calliper": ("length", 48.0),
    "bore gauge": ("length", 84.6),
    "scale": ("mass", 2450.0),
    "torque wrench": ("moment", 22.0),
}
"""What each tool measures, and about what it reads when nobody says [in its unit]."""


@dataclass
class SimulatedTool:
    """A hand tool, by what it is called."""

    called: str = "calliper"
    line: str = WELL
    unplugged_until: float = 0.0
    rate: float = 12.0
    seed: int = 7
    pressed: list[float] = field(default_factory=list)

    def __post_init__(self) -> None:
        self._random = random.Random(self.seed)

    @property
    def name(self) -> str:
        """What it calls itself."""
        return f"{STAND_IN} {self.called}"

    @property
    def word(self) -> str:
        """What it measures."""
        return TOOLS[self.called][0]

    def speaker(self) -> Callable[[float], bytes]:
        """For one connection: readings that were taken since."""
        told = len(self.pressed)

        def say(now: float) -> bytes:
            nonlocal told
            fresh, told = self.pressed[told:], len(self.pressed)
            return b"".join(write_cell_line("tool", {self.word: value}) for value in fresh)

        return say

    def press(self, value: float | None = None) -> str:
        """Press its key. value: in its unit; about its usual one without it."""
        spoken = TOOL.quantities[self.word]
        shown = value if value is not None else TOOLS[self.called][1] * (1.0 + self._random.gauss(0.0, 0.002))
        reading = from_unit(shown, spoken.kind, spoken.unit)
        if not math.isfinite(reading) or not spoken.low <= reading <= spoken.high:
            return "beyond its range"
        self.pressed.append(reading)
        return f"{shown:.3f} {spoken.unit}".encode("ascii", "replace").decode()

    def take(self, words: str) -> str:
        """Carry out a command; the answer for people."""
        name, _, value = words.strip().partition(" ")
        try:
            if name == "press":
                return self.press(float(value) if value else None)
            if name == "unplug":
                self.unplugged_until = time.monotonic() + min(600.0, float(value or 3))
                return words
        except ValueError:
            return f"not understood: {words[:40]}"
        if name == "line" and value in LINE_FAULTS:
            self.line = value
            return words
        return f"not understood: {words[:40]}"
