"""What of claims anybody may read: sheets with how they stand, the index of the house, and nothing else of the records."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload, undefer

from longbreath.core.basis.errors import LongBreathError
from longbreath.dossier.claim.moved import now_reads
from longbreath.dossier.claim.watch import Standing, standing_of
from longbreath.dossier.naming import day
from longbreath.dossier.remembered import Remembered
from longbreath.drawing.sheets import State
from longbreath.store.models import Claim, ClaimAct, ClaimBundle, ClaimSheet
from longbreath.store.models.claim import PUBLISHED, SUPERSEDED, WITHDRAWN
from longbreath.store.stamps import stamps_of

MOST = 2000
"""Sheets that an index lists; a house has fewer."""


@dataclass(frozen=True)
class Listed:
    """One line of the index: address, part, vehicle, kind, statement, how it stands, since when."""

    slug: str
    product: str
    vehicle: str
    kind: str
    statement: str
    standing: str
    changed: str
    published_at: datetime
    at: datetime
    version: str

    @property
    def title(self) -> str:
        """Part on vehicle."""
        return f"{self.product} on {self.vehicle}"


def standing_word(stands: Standing) -> str:
    """How a claim stands, in the one word that feeds and badges use: published, questioned, withdrawn or superseded."""
    return "questioned" if stands.state == PUBLISHED and stands.changed else stands.state


def sheet_of(db: Session, slug: str) -> tuple[Claim, Standing] | None:
    """The claim at a public address with how it stands; None where no sheet was ever published."""
    query = select(Claim).join(ClaimSheet).where(Claim.slug == slug)
    claim = db.scalar(query.options(selectinload(Claim.sheet).options(undefer(ClaimSheet.snapshot))))
    return (claim, standing_of(db, [claim])[claim.id]) if claim is not None else None


def state_of(db: Session, claim: Claim, stands: Standing, address: Mapping[str, str]) -> State:
    """How a sheet says that it stands. address: of newer sheets, by their slug."""
    assert claim.sheet is not None
    ended = claim.newest(WITHDRAWN) or claim.newest(SUPERSEDED)
    newer = newer_of(db, claim)
    if stands.changed:
        try:
            reads = now_reads(db, claim)
        except LongBreathError:
            reads = ""
    else:
        reads = ""
    return State(
        stands.state,
        day(claim.sheet.published_at.date()),
        claim.acts[0].by_name,
        claim.sheet.approved_by.name,
        day(ended.at.date()) if ended is not None else (day(stands.due_on) if stands.due_on and stands.why else "now"),
        stands.why,
        address.get(newer, "") if newer else "",
        stands.changed,
        reads,
        day(stands.due_on) if stands.due_on is not None else "",
    )


def newer_of(db: Session, claim: Claim) -> str:
    """The slug of the newest published sheet of the same kind and application, where it is another; "" where there is none."""
    ended = select(ClaimAct.claim_id).where(ClaimAct.act.in_((WITHDRAWN, SUPERSEDED)))
    query = (
        select(Claim.slug)
        .join(ClaimSheet)
        .where(Claim.application_id == claim.application_id, Claim.kind == claim.kind)
        .where(Claim.id > claim.id, Claim.id.not_in(ended))
    )
    return db.scalar(query.order_by(Claim.id.desc()).limit(1)) or ""


def listed(db: Session) -> list[Listed]:
    """Every sheet of the house, by vehicle and part, those that hold before those that do not."""
    ids = list(db.scalars(select(Claim.application_id).join(ClaimSheet).distinct()))
    found = sorted((row for rows in sheets(db, ids).values() for row in rows), key=lambda row: row.published_at)[-MOST:]
    return sorted(found, key=lambda row: (row.vehicle, row.product, row.standing != PUBLISHED, row.kind))


def _of_many(db: Session, ids: Sequence[int]) -> dict[int, tuple[Listed, ...]]:
    query = select(Claim).join(ClaimSheet).where(Claim.application_id.in_(ids)).order_by(Claim.id.desc())
    claims = list(
        db.scalars(
            query.options(selectinload(Claim.sheet).options(undefer(ClaimSheet.snapshot)), selectinload(Claim.acts))
        )
    )
    stands = standing_of(db, claims)
    found: dict[int, list[Listed]] = {number: [] for number in ids}
    for claim in claims:
        found[claim.application_id].append(_listed(claim, stands[claim.id]))
    return {number: tuple(rows) for number, rows in found.items()}


sheets = Remembered(_of_many, 4000, "sheets", tuple[Listed, ...])
"""Lines of the index by application, kept while nothing of it changes."""


def _listed(claim: Claim, stands: Standing) -> Listed:
    assert claim.sheet is not None
    snap: Mapping[str, Any] = claim.sheet.snapshot
    return Listed(
        claim.slug,
        f"{snap['product']} {snap['revision']}",
        str(snap["vehicle"]),
        str(snap.get("kind_title", "Torque and power")),
        str(snap["statement"]),
        standing_word(stands),
        stands.changed or stands.why,
        claim.sheet.published_at,
        claim.acts[-1].at,
        claim.sheet.read[:12],
    )


def tag_of(db: Session, claim: Claim, stands: Standing) -> str:
    """Identifies a public page as it stands: the sheet, what was done with it, what changed, and whether there is a bundle."""
    bundle = db.scalar(select(ClaimBundle.sha256).where(ClaimBundle.claim_id == claim.id))
    assert claim.sheet is not None
    reads = (
        stamps_of(db, [claim.application_id]) if stands.changed else ""
    )  # what it would read now changes with the records
    parts = (claim.slug, claim.sheet.read, len(claim.acts), stands, bundle, newer_of(db, claim), reads)
    return hashlib.sha256(repr(parts).encode()).hexdigest()[:32]


def tag_of_list(rows: Sequence[Listed]) -> str:
    """Identifies an index as it stands."""
    return hashlib.sha256(repr(rows).encode()).hexdigest()[:32]
