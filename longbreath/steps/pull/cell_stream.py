"""What a cell says, as its screens show it: figures in the viewer's units and points of the trace, sent as events."""

from __future__ import annotations

import json
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from sqlalchemy.exc import SQLAlchemyError

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.devices.status import LOST
from longbreath.dossier.pull.cell_look import CellEyes, CellLook, Course
from longbreath.drawing.cellview import Scale

PACE = 0.05
QUIET_PACE = 0.25
LONGEST = 3600.0
AWAY = {"lines": {"dyno": {"state": LOST, "words": "The database cannot be reached. What was pulled is kept."}}}
FIGURES = (
    ("speed", "speed"),
    ("torque", "torque"),
    ("mixture", "ratio"),
    ("manifold", "pressure"),
    ("throttle", "percent"),
    ("coolant", "temperature"),
    ("oil", "temperature"),
    ("intake", "temperature"),
    ("exhaust", "temperature"),
    ("duty", "percent"),
)
"""Figures that are shown live: word of the line, kind of quantity."""
DIGITS = {"speed": 10.0, "torque": 1.0, "mixture": 0.01, "manifold": 1000.0, "throttle": 0.01, "duty": 0.01}


def shown(look: CellLook, system: str) -> dict[str, Any]:
    """What the page shows of this moment but its trace, as JSON-ready text."""
    figures = {}
    for word, kind in FIGURES:
        if word in look.values:
            value = round(look.values[word] / RPM / 10.0) * 10.0 * RPM if word == "speed" else look.values[word]
            figures[word] = units.show(value, kind, system, DIGITS.get(word, 1.0))
    lines = {
        role: {"state": line.state, "words": line.words, "stand_in": line.stand_in} for role, line in look.lines.items()
    }
    heard = look.heard
    return {
        "lines": lines,
        "figures": figures,
        "phase": look.phase,
        "turn": look.turn,
        "words": look.words,
        "open": look.is_open,
        "line": heard.line,
    }


@dataclass
class Tracing:
    """The trace of one screen: up to which moment it was sent, and how points lie in its picture."""

    scale: Scale
    factor: float
    symbol: str
    sent: float | None = None
    pulling: bool = False

    def next(self, look: CellLook) -> dict[str, Any]:
        """Points that are new, and whether they begin a trace."""
        course, begins = look.course, look.phase == "pulling" and not self.pulling
        self.pulling = look.phase == "pulling"
        if course.at:
            self.sent = course.at[-1]
        if not self.pulling or not course.at:
            return {}
        if begins:
            course = from_lowest(course)
        unit = units.unit_of("torque", self.symbol)
        torque = (np.array(course.torque) * self.factor - unit.offset) / unit.factor
        return {"points": self.scale.points(np.array(course.speed) / RPM, torque), "begins": begins}

    def since(self, phase_now: str) -> float | None:
        """From which moment on points are wanted; None: as far back as a pull may have begun."""
        return self.sent if self.pulling or phase_now != "pulling" else None


def from_lowest(course: Course) -> Course:
    """A course from where its speed was lowest: that is where the pull began."""
    first = int(np.argmin(course.speed))
    return Course(course.at[first:], course.speed[first:], course.torque[first:])


def stream(eyes: CellEyes, tracing: Tracing, system: str, wait: Callable[[float], None]) -> Iterator[str]:
    """Server-sent events: figures and new points, twenty times a second while a pull goes on, else four times.

    wait: waits for news of any line, or until a timeout [s].
    """
    ends = time.monotonic() + LONGEST
    phase = "idle"
    while time.monotonic() < ends:
        try:
            look = eyes.look(tracing.since(phase))
            if look.phase == "pulling" and phase != "pulling":
                look = eyes.look(None)
            phase = look.phase
            values = {**shown(look, system), **tracing.next(look)}
        except SQLAlchemyError:
            values = AWAY
        yield f"data: {json.dumps(values, ensure_ascii=False)}\n\n"
        if phase == "pulling":
            time.sleep(PACE)
        else:
            time.sleep(PACE)
            wait(QUIET_PACE - PACE)
