"""What else differed between A and B: by their build sheets and their card, each difference with its written reason."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.build import sheet
from longbreath.core.build.sheet import Differing, SheetComparison
from longbreath.core.claim.language import check_description
from longbreath.dossier.evidence.keys import standing
from longbreath.store.models import Application, BuildSheet, DifferenceReason
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class Builds:
    """The build sheets that stand for a day, what differs beside the part, what was the same, what neither records.

    Where a sheet is missing only the card's own words are known to differ.
    """

    a: BuildSheet | None = None
    b: BuildSheet | None = None
    comparison: SheetComparison | None = None
    differing: tuple[Differing, ...] = ()
    same: tuple[tuple[str, str], ...] = ()
    silent: tuple[str, ...] = ()
    reasons: Sequence[DifferenceReason] = field(default_factory=tuple)
    version: int = 0
    """How many reasons were ever given: two people who give them at once are told."""

    @property
    def vehicles(self) -> tuple[str | None, str | None]:
        """How each sheet names the vehicle; None where there is no sheet."""
        a, b = (s.values.get("vehicle", "").strip() if s is not None else None for s in (self.a, self.b))
        return a, b

    @property
    def parts(self) -> tuple[tuple[str, str], ...]:
        """What each sheet says of the part under its label: part, state, coating."""
        lines = ("part", "part_state", "coating")
        sheets = (("A", self.a), ("B", self.b))
        told = ((label, [s.values.get(k, "").strip() for k in lines]) for label, s in sheets if s is not None)
        return tuple((label, ", ".join(filter(None, texts)) or "not recorded") for label, texts in told)

    @property
    def vehicle(self) -> str:
        """The vehicle as B's sheet names it."""
        return self.vehicles[1] or ""

    @property
    def missing(self) -> tuple[str, ...]:
        """Labels without a sheet."""
        return tuple(label for label, found in (("A", self.a), ("B", self.b)) if found is None)


def builds_of(
    db: Session,
    application_id: int,
    day: date,
    card: str = "",
    pair: tuple[str, str] = ("A", "B"),
    intended: frozenset[str] = frozenset(),
    more: Sequence[tuple[str, str, str, str]] = (),
) -> Builds:
    """The builds of a day. card: what the test card says differs besides; pair: letters of the two; intended: lines that differ on
    purpose; more: what differed in the pulls themselves, as line, label, words of either."""
    query = select(BuildSheet).where(BuildSheet.application_id == application_id, BuildSheet.label != "")
    stand = standing(db.scalars(query), day)
    a, b = (stand.get(letter) for letter in pair)
    of_a, of_b = (found.values if found is not None else {} for found in (a, b))
    known = a is not None and b is not None
    names = {v["part"]: v["aliases"] for v in (of_a, of_b) if v.get("part") and v.get("aliases")}
    comparison = sheet.compare_sheets(of_a, of_b, sheet.as_alias_map(names), intended) if known else None
    reasons = reasons_of(db, application_id)
    by_words = {(r.line, r.a, r.b): r for r in reasons}
    rows = (*sheet.differing(of_a, of_b, comparison or sheet.compare_sheets({}, {}), card), *more)
    used = [by_words.get((line, one, other)) for line, _, one, other in rows]
    differing = tuple(Differing(*row, reason.reason if reason else "") for row, reason in zip(rows, used, strict=True))
    same, silent = sheet.held(of_a, of_b, comparison) if comparison is not None else ([], [])
    return Builds(
        a, b, comparison, differing, tuple(same), tuple(silent), tuple(r for r in used if r is not None), len(reasons)
    )


def reasons_of(db: Session, application_id: int) -> list[DifferenceReason]:
    """All reasons that were given, oldest first: of two for the same difference the newer holds."""
    query = select(DifferenceReason).where(DifferenceReason.application_id == application_id)
    return list(db.scalars(query.order_by(DifferenceReason.id)))


def give_reasons(work: UnitOfWork, application: Application, found: Builds, given: dict[str, str]) -> int:
    """Write down why A and B differed, by line; returns how many reasons are new. Raises InputError for a line that agrees,
    or a reason that holds what only evidence can say: it is prose, and stands on the sheet, as a description is and does."""
    by_line = {item.line: item for item in found.differing}
    added = 0
    for line, text in given.items():
        if line not in by_line:
            raise InputError("A and B do not differ there any more.", f"reason_{line}")
        item, reason = by_line[line], " ".join(text.split())
        if refused := check_description(reason):
            raise InputError(refused.sentence, f"reason_{line}")
        if reason and reason != item.reason:
            row = DifferenceReason(
                application_id=application.id, line=line, a=item.a, b=item.b, reason=reason, given_by_id=work.actor.id
            )
            row.given_by = work.actor
            work.add(row)
            added += 1
    work.flush()
    return added
