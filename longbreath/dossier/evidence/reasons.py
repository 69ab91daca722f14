"""What else differed between A and B, and writing down why: each difference with its reason and what is known of its effect."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.build import sheet
from longbreath.core.case.builds import Builds, builds
from longbreath.core.case.seen import Reason
from longbreath.core.claim.language import check_description
from longbreath.core.weigh.ledger import BOUNDED, KINDS, LARGEST_BOUND, MEASURED
from longbreath.dossier.case.tests import reason_seen, reasons_of, sheet_seen, standing_sheets
from longbreath.dossier.commands import put
from longbreath.store.models import Application, DifferenceReason, DynoSession
from longbreath.store.unit_of_work import UnitOfWork


def builds_of(
    db: Session,
    application_id: int,
    day: date,
    card: str = "",
    pair: tuple[str, str] = ("A", "B"),
    on_purpose: frozenset[str] = frozenset(),
) -> Builds:
    """The builds of a day, without any pull. card: what the test card says differs besides; pair: letters of the two; on_purpose:
    lines that differ because the test wants it."""
    stand = standing_sheets(db, application_id, day)
    a, b = (sheet_seen(stand.get(letter)) for letter in pair)
    return builds(a, b, [reason_seen(row) for row in reasons_of(db, application_id)], card, on_purpose)


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
    by_line = {item.line: (item, was) for item, was in zip(found.differing, found.written, strict=True)}
    added = 0
    for line, said in given.items():
        if line not in by_line:
            raise InputError("A and B do not differ there any more.", f"reason_{line}")
        item, was = by_line[line]
        card = LineCard(said) if isinstance(said, str) else said
        card = replace(card, reason=" ".join(card.reason.split()))
        if refused := check_description(card.reason):
            raise InputError(refused.sentence, f"reason_{line}")
        _check_line(work, application, line, card)
        if card.reason and card.known != _known(was):
            row = DifferenceReason(
                application_id=application.id, line=line, a=item.a, b=item.b, given_by_id=work.actor.id
            )
            put(row, card)
            row.given_by = work.actor
            work.add(row)
            added += 1
    work.flush()
    return added


def _known(was: Reason | None) -> tuple[object, ...] | None:
    return (was.reason, was.kind, was.low, was.high, was.session, was.from_letter, was.to_letter) if was else None


def _check_line(work: UnitOfWork, application: Application, line: str, card: LineCard) -> None:
    """Raise InputError for a line of the ledger that does not say what its kind wants, or wants what cannot be taken off."""
    if card.kind and card.kind not in KINDS:
        raise InputError("Choose what is known of its effect.", f"kind_{line}")
    if card.kind and not card.reason:
        raise InputError("Say in words why: it stands on the sheet.", f"reason_{line}")
    if card.kind in (BOUNDED, MEASURED) and not sheet.can_close(line):
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
