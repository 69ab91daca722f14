"""What else differed between A and B: by their build sheets and their card, each difference with its written reason."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.build import sheet
from longbreath.core.build.sheet import Differing, SheetComparison
from longbreath.core.claim.language import check_description
from longbreath.core.weigh.ledger import BOUNDED, KINDS, LARGEST_BOUND, MEASURED, NONE
from longbreath.dossier.commands import put
from longbreath.dossier.evidence.keys import standing
from longbreath.dossier.weigh.ledger import Told
from longbreath.store.models import Application, BuildSheet, DifferenceReason, DynoSession
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
    told: tuple[Told, ...] = ()
    """Each difference with what was written of it."""
    version: int = 0
    """How many reasons were ever given: two people who give them at once are told."""

    @property
    def vehicles(self) -> tuple[str | None, str | None]:
        """How each sheet names the vehicle; None where there is no sheet."""
        a, b = (s.values.get("vehicle", "").strip() if s is not None else None for s in (self.a, self.b))
        return a, b

    @property
    def parts(self) -> tuple[tuple[str, str], ...]:
        """What each sheet says of the part under its label: name, state, machining, coating, serial."""
        lines = ("part", "part_state", "machining", "coating", "serial")
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
    told = tuple(Told(line, label, reason) for (line, label, *_), reason in zip(rows, used, strict=True))
    given = tuple(r for r in used if r is not None)
    return Builds(a, b, comparison, differing, tuple(same), tuple(silent), given, told, len(reasons))


def reasons_of(db: Session, application_id: int) -> list[DifferenceReason]:
    """All reasons that were given, oldest first: of two for the same difference the newer holds."""
    query = select(DifferenceReason).where(DifferenceReason.application_id == application_id)
    return list(db.scalars(query.order_by(DifferenceReason.id)))


@dataclass(frozen=True)
class LineCard:
    """What is written of one difference: why, and what is known of its effect: kind, range as shares of A's torque [1], or the
    session and letters of the test that measured it alone."""

    reason: str
    kind: str = ""
    low: float | None = None
    high: float | None = None
    session_id: int | None = None
    from_label: str = ""
    to_label: str = ""

    @property
    def known(self) -> tuple[object, ...]:
        """All that it says."""
        return self.reason, self.kind, self.low, self.high, self.session_id, self.from_label, self.to_label


def give_reasons(work: UnitOfWork, application: Application, found: Builds, given: Mapping[str, str | LineCard]) -> int:
    """Write why A and B differed and what is known of it, by line; returns how many are new. Raises InputError for a line that
    agrees, a
    reason that holds what only evidence can say (it is prose and stands on the sheet), a bound without its range, or a test that is
    not there."""
    by_line = {item.line: (item, told.row) for item, told in zip(found.differing, found.told, strict=True)}
    added = 0
    for line, said in given.items():
        if line not in by_line:
            raise InputError("A and B do not differ there any more.", f"reason_{line}")
        item, standing_row = by_line[line]
        card = LineCard(said) if isinstance(said, str) else said
        card = replace(card, reason=" ".join(card.reason.split()))
        if refused := check_description(card.reason):
            raise InputError(refused.sentence, f"reason_{line}")
        _check_line(work, application, line, card)
        if card.reason and card.known != _known(standing_row):
            row = DifferenceReason(
                application_id=application.id, line=line, a=item.a, b=item.b, given_by_id=work.actor.id
            )
            put(row, card)
            row.given_by = work.actor
            work.add(row)
            added += 1
    work.flush()
    return added


def _known(row: DifferenceReason | None) -> tuple[object, ...] | None:
    if row is None:
        return None
    return row.reason, row.kind, row.low, row.high, row.session_id, row.from_label, row.to_label


def _check_line(work: UnitOfWork, application: Application, line: str, card: LineCard) -> None:
    """Raise InputError for a line of the ledger that does not say what its kind wants, or wants what cannot be taken off."""
    if card.kind and card.kind not in KINDS:
        raise InputError("Choose what is known of its effect.", f"kind_{line}")
    if card.kind and not card.reason:
        raise InputError("Say in words why: it stands on the sheet.", f"reason_{line}")
    if card.kind in (BOUNDED, MEASURED, NONE) and not sheet.can_close(line):
        words = f"{sheet.BY_KEY[line].label} cannot be taken off, nor closed by words: test again with this the same."
        raise InputError(f"{words} If a build sheet is wrong, correct that.", f"kind_{line}")
    if card.kind == BOUNDED:
        _check_bound(line, card)
    if card.kind == MEASURED:
        _check_test(work, application, line, card)


def _check_bound(line: str, card: LineCard) -> None:
    """A range holds nought, so that it can only widen an interval: what leaves nought out is an effect, and has to be measured."""
    for edge, value in (("low", card.low), ("high", card.high)):
        if value is None:
            raise InputError("A bound has a least and a most, in per cent of A’s torque.", f"{edge}_{line}")
        if abs(value) > LARGEST_BOUND:
            raise InputError(
                f"A bound of more than {LARGEST_BOUND:.0%} says nothing: leave it unknown.", f"{edge}_{line}"
            )
    if (card.low or 0.0) > (card.high or 0.0):
        raise InputError("The range ends before it begins.", f"high_{line}")
    if (card.low or 0.0) > 0.0 or (card.high or 0.0) < 0.0:
        raise InputError("A range that leaves nought out claims an effect: measure that change alone.", f"low_{line}")


def _check_test(work: UnitOfWork, application: Application, line: str, card: LineCard) -> None:
    """The test was held on this vehicle, and its two letters do not differ in the part itself."""
    session = work.get(DynoSession, card.session_id) if card.session_id is not None else None
    if session is None or session.application.vehicle_id != application.vehicle_id:
        raise InputError("Choose the test that measured this change alone.", f"test_{line}")
    rows = {row.letter: {part.revision_id for part in row.variant.parts} for row in session.card.variants}
    if card.from_label not in rows or card.to_label not in rows or card.from_label == card.to_label:
        raise InputError("Choose the test that measured this change alone.", f"test_{line}")
    if (application.revision_id in rows[card.from_label]) != (application.revision_id in rows[card.to_label]):
        raise InputError("These two differ in the part itself: this is no test of that change alone.", f"test_{line}")
