"""The board of a dyno day: pulls in their letters' styles, what the last one says, air and correction, what each setting reached."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from longbreath.core.air import correction
from longbreath.core.air.moist import Weather
from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.pull import pulls as sweeping
from longbreath.core.pull.pulls import Array
from longbreath.dossier.records.sessions import factor_of, sweeps
from longbreath.drawing.cellview import Drawn, Scale, scale_of
from longbreath.store.models import Application, DynoSession, Pull

USUAL_TORQUE = 220.0
"""For the scale of a picture before anything was pulled [N m]."""
MOST_DRAWN = 24
"""Pulls that are drawn; of a longer day the last ones."""
OFF = {"temperature": 1.5, "pressure": 150.0, "humidity": 0.08}
"""By how much the air of the station may differ from the session's before it is said [K, Pa, 1]. Common practice, no source."""
WORDS = {
    "temperature": ("air", "temperature"),
    "pressure": ("pressure", "barometer"),
    "humidity": ("humidity", "percent"),
}


@dataclass(frozen=True)
class Picture:
    """What the picture of the cell is drawn of: its scale, its speeds [rpm], its pulls."""

    scale: Scale
    speeds: Array
    pulls: tuple[Drawn, ...]


def picture_of(db: Session, application: Application, session: DynoSession, system: str) -> Picture:
    """The picture of a session's pulls, corrected, in display units."""
    vehicle = application.vehicle
    grid = sweeping.speed_grid(vehicle.band_low, vehicle.band_end)
    symbol, factor = units.kind_named("torque").symbol(system), factor_of(session)
    shown = session.full_pulls[-MOST_DRAWN:]
    found = sweeps(db, shown)
    last = max((p.id for p in shown), default=0)
    unit = units.unit_of("torque", symbol)
    drawn = [
        Drawn(
            p.label,
            p.is_valid,
            (sweeping.on_grid(found[p.id], grid) * factor - unit.offset) / unit.factor,
            p.id == last,
        )
        for p in shown
    ]
    greatest = max((float(np.nanmax(d.torque)) for d in drawn if np.isfinite(d.torque).any()), default=0.0)
    least = min((float(np.nanmin(d.torque)) for d in drawn if np.isfinite(d.torque).any()), default=0.0)
    usual = units.to_unit(USUAL_TORQUE, "torque", symbol)
    return Picture(scale_of(grid[0] / RPM, grid[-1] / RPM, greatest or usual, least), grid / RPM, tuple(drawn))


@dataclass(frozen=True)
class AirLine:
    """One quantity of the air: its name, the session's value, the station's now, their kind, whether they differ by too much."""

    name: str
    kept: float
    now: float | None
    kind: str
    is_off: bool


def air_lines(session: DynoSession, values: dict[str, float]) -> tuple[AirLine, ...]:
    """The session's air beside what the weather station says now. values: by word [SI]."""
    found = []
    for key, (name, kind) in WORDS.items():
        kept, now = float(getattr(session, key)), values.get(key)
        found.append(AirLine(name, kept, now, kind, now is not None and abs(now - kept) > OFF[key]))
    return tuple(found)


def factor_now(session: DynoSession, values: dict[str, float]) -> float | None:
    """The correction factor by the air of the station, where it says all of it."""
    if not set(WORDS) <= set(values) or session.already_corrected:
        return None
    air = Weather(values["temperature"], values["pressure"], values["humidity"])
    return correction.correction(air, session.standard, "now").value


def last_pull(session: DynoSession) -> Pull | None:
    """The pull that was recorded last."""
    return max(session.pulls, key=lambda p: p.id, default=None)


def rows_of(session: DynoSession) -> list[dict[str, Any]]:
    """The pulls of the day, newest first: what each is, its band mean and greatest boost where they are known [SI]."""
    found = []
    for pull in sorted(session.full_pulls, key=lambda p: -p.id):
        facts = pull.read.told.get("facts", {})
        found.append({"pull": pull, "mean": facts.get("mean"), "boost": facts.get("boost"), "air": facts.get("air")})
    return found
