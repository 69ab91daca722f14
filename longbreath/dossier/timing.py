"""Turns degree-wheel sheets and rungs of the port ladder into core inputs."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.timing import port_ladder, wheel
from longbreath.store.models import LadderRung, WheelSheet


def sheets_of(db: Session, application_id: int) -> list[WheelSheet]:
    """All sheets of an application, newest first."""
    return list(
        db.scalars(
            select(WheelSheet).where(WheelSheet.application_id == application_id).order_by(WheelSheet.id.desc())
        )
    )


def standing(sheets: list[WheelSheet]) -> list[WheelSheet]:
    """The sheets that no newer one has taken the place of."""
    gone = {s.supersedes_id for s in sheets}
    return [s for s in sheets if s.id not in gone]


def core_sheet(sheet: WheelSheet) -> wheel.Sheet:
    """A sheet for the core; a stop, where it was met, gives the wheel's false dead centre."""
    offset = 0.0
    if sheet.stop_before is not None and sheet.stop_after is not None:
        offset = wheel.dead_centre_figure(sheet.stop_before, sheet.stop_after).value
    return wheel.Sheet(sheet.kind, sheet.readings, offset, sheet.tares, sheet.totals, sheet.checking_lift)


def rungs_of(db: Session, application_id: int) -> list[LadderRung]:
    """The port ladder of an application, from the lowest rung."""
    query = select(LadderRung).where(LadderRung.application_id == application_id)
    return list(db.scalars(query.order_by(LadderRung.position, LadderRung.id)))


def core_rung(rung: LadderRung) -> port_ladder.Rung:
    """A rung for the core."""
    values = {}
    for key, entry in rung.values.items():
        value = entry["value"]
        values[key] = port_ladder.Value(value if isinstance(value, str) else float(value), entry["grade"])
    return port_ladder.Rung(rung.name, values)
