"""What differed between A and B beside the part: by their build sheets, their card and the pulls themselves, each with its reason."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from longbreath.core.build import sheet
from longbreath.core.build.sheet import Differing, SheetComparison, folded
from longbreath.core.case.conditions import differing as conditions_differing
from longbreath.core.case.seen import Reason, Session, Sheet, Test
from longbreath.core.plan.conditions import intended

PART_LINES = ("part", "part_state", "machining", "coating", "serial")
"""Lines of a build sheet that say what the part is, in the order a sheet prints them."""


@dataclass(frozen=True)
class Builds:
    """The build sheets of A and B, what differs beside the part, what was the same, what neither records; written: of each difference
    what was written of it, None where nothing was.

    Where a sheet is missing only the card's own words are known to differ.
    """

    a: Sheet | None = None
    b: Sheet | None = None
    comparison: SheetComparison | None = None
    differing: tuple[Differing, ...] = ()
    same: tuple[tuple[str, str], ...] = ()
    silent: tuple[str, ...] = ()
    written: tuple[Reason | None, ...] = ()
    version: int = 0
    """How many reasons were ever given: two people who give them at once are told."""
    bare: frozenset[str] = frozenset()
    """Labels without a sheet on a day of these."""

    @property
    def vehicles(self) -> tuple[str | None, str | None]:
        """How each sheet names the vehicle; None where there is no sheet for a day."""
        sides = (("A", self.a), ("B", self.b))
        a, b = (None if s is None or label in self.bare else s.lines.get("vehicle", "").strip() for label, s in sides)
        return a, b

    @property
    def vehicle(self) -> str:
        """The vehicle as B's sheet names it."""
        return self.vehicles[1] or ""

    @property
    def parts(self) -> tuple[tuple[str, str], ...]:
        """What each sheet says of the part under its label: name, state, machining, coating, serial."""
        sheets = (("A", self.a), ("B", self.b))
        told = ((label, [s.lines.get(k, "").strip() for k in PART_LINES]) for label, s in sheets if s is not None)
        return tuple((label, ", ".join(filter(None, texts)) or "not recorded") for label, texts in told)

    @property
    def lines(self) -> tuple[Mapping[str, str], Mapping[str, str]]:
        """The lines of both sheets; empty where there is none."""
        a, b = (s.lines if s is not None else {} for s in (self.a, self.b))
        return a, b

    @property
    def missing(self) -> tuple[str, ...]:
        """Labels without a sheet."""
        return tuple(label for label, found in (("A", self.a), ("B", self.b)) if found is None)


def builds(
    a: Sheet | None,
    b: Sheet | None,
    reasons: Sequence[Reason],
    card: str = "",
    on_purpose: frozenset[str] = frozenset(),
    more: Sequence[tuple[str, str, str, str]] = (),
) -> Builds:
    """Two build sheets beside each other. reasons: oldest first, of two for the same difference the newer holds; card: what the test
    card says differs besides; on_purpose: lines that differ because the test wants it; more: what differed in the pulls, as line,
    label, words of either."""
    of_a, of_b = (found.lines if found is not None else {} for found in (a, b))
    names = {v["part"]: v["aliases"] for v in (of_a, of_b) if v.get("part") and v.get("aliases")}
    comparison = None
    if a is not None and b is not None:
        comparison = sheet.compare_sheets(of_a, of_b, sheet.as_alias_map(names), on_purpose)
    by_words = {(r.line, r.a, r.b): r for r in reasons}
    rows = (*sheet.differing(of_a, of_b, comparison or sheet.compare_sheets({}, {}), card), *more)
    written = tuple(by_words.get((line, one, other)) for line, _, one, other in rows)
    differing = tuple(Differing(*row, found.reason if found else "") for row, found in zip(rows, written, strict=True))
    same, silent = sheet.held(of_a, of_b, comparison) if comparison is not None else ([], [])
    return Builds(a, b, comparison, differing, tuple(same), tuple(silent), written, len(reasons))


def builds_of(test: Test) -> Builds:
    """The builds of a test: of its newest day, with whatever differed on any day; what was another thing on another day, though the
    same for A and B, belongs to the day."""
    days = [(session, _of_day(session, test.reasons)) for session in test.sessions]
    newest, more = days[0][1], [(d.line, d.label, d.a, d.b) for _, found in days[1:] for d in found.differing]
    more += conditions_differing(test.sessions)
    known = {(d.line, d.a, d.b) for d in newest.differing}
    found = _of_day(test.newest, test.reasons, [row for row in dict.fromkeys(more) if (row[0], *row[2:]) not in known])
    bare = frozenset(label for _, day in days for label in day.missing)
    return replace(found, same=tuple(_by_day(days, label, text) for label, text in found.same), bare=bare)


def _of_day(session: Session, reasons: Sequence[Reason], more: Sequence[tuple[str, str, str, str]] = ()) -> Builds:
    card = session.card
    on_purpose = intended(card.tune_mode, card.control_mode)
    return builds(session.sheet_a, session.sheet_b, reasons, card.also_changed, on_purpose, more)


def _by_day(days: Sequence[tuple[Session, Builds]], label: str, text: str) -> tuple[str, str]:
    """What was the same for A and B, day by day where the days do not agree."""
    told = {session.held_on: dict(found.same).get(label, "not recorded") for session, found in days}
    if set(told.values()) == {text}:
        return label, text
    return label, "; ".join(f"{day:%d %b %Y}: {words}" for day, words in sorted(told.items()))


def differing_on(session: Session) -> frozenset[tuple[str, str, str]]:
    """What differed beside the part on a day, by its sheets and its card: line, words of either."""
    return frozenset((d.line, folded(d.a), folded(d.b)) for d in _of_day(session, ()).differing)
