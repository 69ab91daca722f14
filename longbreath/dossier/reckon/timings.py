"""The register of timings: measured degree-wheel sheets of all vehicles side by side, with the makers' words beside the meaning."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.timing import wheel
from longbreath.dossier.conditions import cylinder_of
from longbreath.dossier.timing import core_sheet, standing
from longbreath.store.models import Application, Vehicle, WheelSheet

MOST = 400
"""Sheets that the register shows, newest first."""


@dataclass(frozen=True)
class TimedPort:
    """One port of one sheet: opening and closing in the sheet's words, and its total."""

    port: str
    opens: tuple[str, float]
    closes: tuple[str, float]
    total: Figure


@dataclass(frozen=True)
class Timing:
    """One sheet of the register: whose, on what, what the maker calls it, what is meant, and what contradicts itself."""

    sheet: WheelSheet
    application: Application
    cylinder: float
    ports: tuple[TimedPort, ...]
    meaning: str
    findings: tuple[str, ...]

    @property
    def vehicle(self) -> Vehicle:
        """The vehicle it was read on."""
        return self.application.vehicle


def register_of(db: Session, kind: str = "", use: str = "") -> list[Timing]:
    """The sheets that stand, of one kind and use or of all, by displacement of one cylinder."""
    query = select(WheelSheet, Application).join(Application, Application.id == WheelSheet.application_id)
    query = query.join(Vehicle, Vehicle.id == Application.vehicle_id).order_by(WheelSheet.id.desc())
    if kind:
        query = query.where(WheelSheet.kind == kind)
    if use:
        query = query.where(Vehicle.use == use)
    rows = db.execute(query.limit(MOST)).all()
    stands = {s.id for s in standing([sheet for sheet, _ in rows])}
    found = [_timing(sheet, application) for sheet, application in rows if sheet.id in stands]
    return sorted(found, key=lambda t: (t.sheet.kind, t.cylinder, t.sheet.id))


def _timing(sheet: WheelSheet, application: Application) -> Timing:
    core = core_sheet(sheet)
    names = dict(wheel.READINGS[sheet.kind])
    rows = (f"{sheet.title}, {sheet.held_on:%d %b %Y}, read by {sheet.taken_by.name}",)
    ports = []
    for port in wheel.PORTS[sheet.kind]:
        if not core.has(port):
            continue
        opens, closes = f"{port}_opens", f"{port}_closes"
        try:
            figures = wheel.port_figures(core, port, rows)
        except InputError:
            continue
        total = next(f for f in figures.values() if f.kind == "angle")
        ports.append(
            TimedPort(port, (names[opens], core.read(opens) or 0.0), (names[closes], core.read(closes) or 0.0), total)
        )
    meaning = "; ".join(_meant(p) for p in ports)
    findings = tuple(f.words for f in wheel.findings(core))
    return Timing(sheet, application, cylinder_of(application.vehicle), tuple(ports), meaning, findings)


def _meant(port: TimedPort) -> str:
    """What a port's timing means, in words that cannot mislead."""
    degrees = 57.29577951308232
    opens, closes = port.opens[1] * degrees, port.closes[1] * degrees
    return f"{port.opens[0].lower()} {opens:.0f}°, {port.closes[0].lower()} {closes:.0f}°"


def kinds_and_uses(db: Session) -> tuple[list[str], list[str]]:
    """The kinds of sheet and the uses of vehicles that the register can be narrowed to."""
    kinds = db.scalars(select(WheelSheet.kind).distinct().order_by(WheelSheet.kind))
    uses = db.scalars(select(Vehicle.use).join(Application).join(WheelSheet).distinct().order_by(Vehicle.use))
    return list(kinds), list(uses)
