"""A test weighed: A against B over the valid pulls of its sessions, and from the observed to the net. Desk and bundle come here."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from longbreath.core.basis.errors import EvidenceError, LongBreathError
from longbreath.core.case.alone import otherwise
from longbreath.core.case.builds import Builds, builds_of
from longbreath.core.case.placing import (
    Channels,
    Sides,
    check_one_place,
    every_side,
    is_of_several_dynos,
    logged,
    pair_sides,
    runs_of,
    widest_scatter,
)
from longbreath.core.case.seen import Reason, Session, Test
from longbreath.core.compare import bands as verdicts
from longbreath.core.compare import compare
from longbreath.core.compare.bands import Band, Weighing
from longbreath.core.compare.either import either
from longbreath.core.pull import pulls
from longbreath.core.weigh import ledger
from longbreath.core.weigh import logged as logged_pulls
from longbreath.core.weigh.ledger import BOUNDED, KINDS, MEASURED, UNKNOWN, LedgerLine, Net, applied
from longbreath.core.weigh.logged import OF_BOOST, Response, Schools

NO_PULLS = "There are no pulls to weigh yet."
NO_PAIR = (
    "Nothing compares the part with stock yet: at least two valid pulls of A and two of B under one card are needed."
)


@dataclass(frozen=True)
class Weighed:
    """What came of a test: the weighing of its pulls, the builds of the day, and the net (None where nothing differs beside the
    part)."""

    weighing: Weighing
    builds: Builds
    net: Net | None

    @property
    def is_net(self) -> bool:
        """Whether what may be said is the net: every line of the ledger is known, and some take something off."""
        return self.net is not None and self.net.is_closed and self.net.moves

    @property
    def stated(self) -> Weighing:
        """The weighing that a statement is made of: the net where the ledger is closed, else what was observed."""
        return applied(self.weighing, self.net)

    @property
    def package(self) -> tuple[str, ...]:
        """What makes this the result of a package: everything that differed, while the effect of any of it is not known."""
        open_ = self.net is not None and not self.net.is_closed
        return tuple(item.label for item in self.builds.differing) if open_ else ()


def compared(
    sessions: Sequence[Session],
    sides: Sides,
    bands: Sequence[Band],
    channels: Channels,
    margin: float = compare.MARGIN_SHARE,
    confidence: float = compare.CONFIDENCE,
) -> compare.Comparison:
    """A against B over the bands of use. margin: of no meaningful difference [1], where one was chosen; confidence: of the intervals
    [1]. Raises EvidenceError where the pulls do not allow it."""
    grid = pulls.speed_grid(bands[0].low, bands[-1].high)
    runs = runs_of(sessions, sides, grid, channels)
    several, scatter = is_of_several_dynos(sessions), widest_scatter(sessions)
    return compare.compare_pulls(runs, grid, confidence, 1, scatter, several, margin)


def weigh(test: Test, channels: Channels) -> Weighed:
    """A test weighed; where pulls take part, or do not, on one person's word, what holds either way. Raises EvidenceError where its
    pulls do not allow it."""
    found = _as_it_stands(test, channels)
    ways = [("as it stands", found.weighing)]
    for words, other in otherwise(test):
        try:
            ways.append((words, _as_it_stands(other, channels).weighing))
        except EvidenceError as error:
            told = f"{words[0].upper()}{words[1:]}, on which one person has the only word, nothing can be weighed"
            raise EvidenceError(f"{told}: {error.message} Let somebody look a second time, under Pull.") from None
    if len(ways) == 1:
        return found
    weighing = either(ways)
    net = ledger.net_of(weighing, found.net.lines) if found.net is not None else None
    return Weighed(weighing, found.builds, net)


def _as_it_stands(test: Test, channels: Channels) -> Weighed:
    if not any(session.pulls for session in test.sessions):
        raise EvidenceError(NO_PULLS)
    check_one_place(test.sessions)
    margin, sides = test.margin, pair_sides(test.sessions)
    comparison = compared(test.sessions, sides, test.bands, channels, margin, test.confidence)
    weighing, found = verdicts.weigh(comparison, test.bands, test.bands_late), builds_of(test)
    if not found.differing:
        return Weighed(weighing, found, None)
    lines = [
        _line(item.line, item.label, written, test, comparison, channels)
        for item, written in zip(found.differing, found.written, strict=True)
    ]
    return Weighed(weighing, found, ledger.net_of(weighing, lines))


def _line(
    line: str, label: str, written: Reason | None, test: Test, comparison: compare.Comparison, channels: Channels
) -> LedgerLine:
    """A difference as it enters the ledger; one whose effect cannot be had is unknown, with why."""
    if written is None or written.kind not in KINDS or written.kind == UNKNOWN:
        return LedgerLine(line, label, UNKNOWN, written.reason if written is not None else "")
    try:
        if written.kind == BOUNDED:
            low, high = ledger.bounded(comparison, written.low or 0.0, written.high or 0.0)
            return LedgerLine(line, label, BOUNDED, written.reason, low=low, high=high)
        return _measured(line, label, written, test, comparison, channels)
    except LongBreathError as error:
        return LedgerLine(line, label, UNKNOWN, f"{written.reason}: {error.message}")


def _measured(
    line: str, label: str, written: Reason, test: Test, comparison: compare.Comparison, channels: Channels
) -> LedgerLine:
    session = test.session(written.session or 0)
    _check_like(session, test.newest)
    own = alone(session, written.from_letter, written.to_letter, test.bands, channels)
    if not own.design.drift:
        raise EvidenceError("what was pulled first was not pulled again there: its effect cannot be told from drift")
    value, error, df, effects = ledger.measured(comparison, own, test.bands)
    shares = session.number in {s.number for s in test.sessions}
    return LedgerLine(line, label, MEASURED, written.reason, value, error, df, shares_pulls=shares, of_band=effects)


def _check_like(session: Session, used: Session) -> None:
    """Raise EvidenceError where torque of that test is another torque: at wheel or crank, corrected otherwise."""
    if session.dyno.measured_at != used.dyno.measured_at:
        raise EvidenceError("that test was measured elsewhere: wheel and crank figures are never mixed")
    if (session.standard, session.already_corrected) != (used.standard, used.already_corrected):
        raise EvidenceError("that test carries another correction, which is never mixed")


def alone(session: Session, one: str, other: str, bands: Sequence[Band], channels: Channels) -> compare.Comparison:
    """What another letter did against one, in a session of its own: the change measured alone. Raises EvidenceError where it is
    too short."""
    return compared([session], {session.number: {one: "A", other: "B"}}, bands, channels)


def schools_of(test: Test, weighed: Weighed, channels: Channels) -> Schools:
    """Equal boost beside as set, from the same pulls."""
    every = logged(test.sessions, every_side(test.sessions), channels, OF_BOOST)
    grid = weighed.weighing.comparison.grid
    return logged_pulls.schools(every, grid, widest_scatter(test.sessions), test.card.control_mode, test.confidence)


def response_of(test: Test, weighed: Weighed, channels: Channels, rate: float | None = None) -> Response:
    """Response of A and B from their logs. rate: how fast the engine speeds up [rad/s²]. Raises EvidenceError without boost."""
    every = logged(test.sessions, every_side(test.sessions), channels, OF_BOOST)
    return logged_pulls.respond(every, weighed.weighing.comparison, test.bands, rate)
