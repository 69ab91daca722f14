"""The numbers behind a verdict: speed by speed, pull by pull; and what a reader is told beside it in words."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from longbreath.core.air.correction import STANDARDS
from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import LongBreathError
from longbreath.core.compare import counted
from longbreath.core.compare.bands import Weighing
from longbreath.dossier.evidence.gather import Evidence
from longbreath.dossier.path.duty import flowing, usual_duty
from longbreath.dossier.path.elements import elements_of
from longbreath.dossier.path.versions import walked
from longbreath.store.models import Application


@dataclass(frozen=True)
class Table:
    """The picture as numbers, in display units: names of the columns, rows as text, the unit."""

    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    unit: str
    places: tuple[int, ...]


def table_of(found: Evidence, system: str) -> Table:
    """A, B, B − A with its half width, and every pull, at each speed of the grid."""
    c = found.weighing.comparison
    unit, scale = units.kind_named("torque").symbol(system), units.scale("torque", system)
    heads = (
        "rpm",
        f"A, {unit}",
        f"B, {unit}",
        f"B − A, {unit}",
        f"± {unit}",
        *(_head(run.label, run.order) for run in c.runs),
    )
    rows = []
    for k, speed in enumerate(c.grid):
        values = (c.a[k], c.b[k], c.difference[k], c.half_width[k], *(run.torque[k] for run in c.runs))
        rows.append((f"{speed / RPM:.0f}", *(f"{v / scale:.2f}" for v in values)))
    return Table(heads, tuple(rows), unit, tuple(run.order for run in c.runs))


def _head(label: str, order: int) -> str:
    return f"pull {order} ({label})"


def as_csv(table: Table) -> str:
    """The same as comma separated text."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(table.heads)
    writer.writerows(table.rows)
    return out.getvalue()


def scatter_words(weighing: Weighing, system: str) -> tuple[str, tuple[tuple[str, str], ...]]:
    """What the interval counts, in one sentence; and band by band what it would be if each pull were independent."""
    family = len(weighing.bands)
    beside = []
    for item in weighing.bands:
        assert item.band is not None
        said = counted.alone(weighing.comparison, item.band.low, item.band.high, family, item.effect.half_width, system)
        if said is not None:
            beside.append((item.name, said))
    return counted.counts(weighing.comparison, system), tuple(beside)


def influences(weighing: Weighing, system: str) -> tuple[tuple[str, str, bool], ...]:
    """Band by band: its name, what is left without the pull that it most depends on, and whether that pull stands out."""
    pairs = ((item, weighing.influences[item.name]) for item in weighing.bands)
    return tuple((item.name, found.short(item.effect, system), found.matters(item.effect)) for item, found in pairs)


def conditions_of(found: Evidence) -> Sequence[str]:
    """The conditions that are printed into a picture."""
    application, session, c = found.application, found.session, found.weighing.comparison
    order = "A-B-A" if c.design.drift else "without a return to A: drift is in it"
    return (
        f"{application.revision.title} (B) against {application.stock_revision.title} (A), {application.vehicle.name}",
        f"{session.card.dyno.name}, at the {session.card.dyno.measured_at}; {session.held_on:%d %b %Y}; {order}; "
        f"{c.count('A')} valid pulls of A, {c.count('B')} of B; {STANDARDS[session.standard].name}",
        "Band: for the whole curve at once, over all looks. " + ("Result of a package." if found.package else ""),
    )


AGE = 30
"""Sessions that lie so many days apart are said to. Common practice, no source."""


def age_words(found: Evidence) -> str:
    """What days between joined sessions mean; nothing where they lie close together or there is one."""
    days = [session.held_on for session in found.sessions]
    apart = (max(days) - min(days)).days
    if apart <= AGE:
        return ""
    return (
        f"These sessions lie {apart} days apart: what engine, fuel and dyno did in between is in no interval. "
        "A baseline loses worth with its age: pull A again."
    )


def narrowest(db: Session, application: Application) -> str:
    """The weakest element of the path at the usual duty, by name; nothing where the path is not measured or cannot be walked."""
    rows = elements_of(db, application.id)
    side = application.product.side
    if not any(row.side == side for row in rows):
        return ""
    try:
        at = flowing(application.vehicle, usual_duty(application.vehicle), "us")
        weakest = walked("A", rows, side, at.duty).side.weakest
    except LongBreathError:
        return ""
    return weakest.element.name if weakest is not None else ""
