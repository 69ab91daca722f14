"""What a live bench says, as the desk shows it: values in the viewer's units, sent as events."""

from __future__ import annotations

import json
import time
from collections.abc import Callable, Iterator
from typing import Any

from sqlalchemy.exc import SQLAlchemyError

from longbreath.core.basis import units
from longbreath.core.bench.live import LiveDesk
from longbreath.devices.standin import STAND_IN
from longbreath.devices.status import LIVE, LOST
from longbreath.dossier.instruments import Look, Wire
from longbreath.drawing.column import scale_top

PACE = 0.12
LONGEST = 1800.0
AWAY = {"state": LOST, "words": "The database cannot be reached. What was captured is kept.", "stand_in": False}


def shown(desk: LiveDesk, system: str, look: Look) -> dict[str, Any]:
    """What the page shows of this moment, in the viewer's units, as JSON-ready text."""
    status = look.status
    found: dict[str, Any] = {
        "state": status.state,
        "words": status.words,
        "refused": status.refused,
        "stand_in": STAND_IN in status.device,
    }
    if status.state != LIVE or status.newest is None:
        return found
    line = status.newest.line
    settled = desk.settled(look.samples, look.now)
    flow = desk.at_test_pressure(line)
    unit = units.kind_named("column").symbol(system)
    column = units.to_unit(line.column, "column", unit)
    top = scale_top(units.to_unit(desk.test_pressure, "column", unit))
    air = [units.show(t, "temperature", system, 0.1) for t in (line.inlet, line.meter) if t is not None]
    places = 1 if system == "us" else 2
    return {
        **found,
        "flow": units.show_number(flow, "flow", system, decimals=1) if flow is not None else "–",
        "column": units.tidy_number(column, places),
        "level": round(min(1.0, max(0.0, column / top)), 4),
        "range": f"range {line.range_label}" if line.range_label else "",
        "share": units.show(line.share, "percent", system, 0.001) if line.share is not None else "",
        "airs": " / ".join(air),
        "gathered": round(settled.gathered, 2),
        "unrest": round(min(settled.unrest, 9.9), 1),
        "good": settled.good,
        "problems": [
            {"key": p.key, "finding": p.finding, "advice": p.advice, "blocks": p.blocks} for p in settled.problems
        ],
    }


def stream(desk: LiveDesk, system: str, wire: Wire, wait: Callable[[float], None]) -> Iterator[str]:
    """Server-sent events: the desk's values, at most eight a second, and at least four while nothing comes in.

    wait: waits for news of any line, or until a timeout [s].
    """
    ends = time.monotonic() + LONGEST
    while time.monotonic() < ends:
        try:
            values = shown(desk, system, wire.look(desk.rules.window))
        except SQLAlchemyError:
            values = AWAY
        yield f"data: {json.dumps(values, ensure_ascii=False)}\n\n"
        time.sleep(PACE)
        wait(0.25 - PACE)
