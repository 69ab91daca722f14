"""From sessions to pulls as they are weighed: which of them take part under which label, their places, sets and days, their curves."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from longbreath.core.air import correction
from longbreath.core.air.moist import Weather
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.working import Figure
from longbreath.core.build.sheet import folded
from longbreath.core.case.seen import Card, Pull, Session
from longbreath.core.compare.compare import PullCurve
from longbreath.core.compare.scatter import Scatter, set_numbers
from longbreath.core.weigh.logged import OF_TORQUE, Logged, curves

Array = npt.NDArray[np.float64]
Sides = Mapping[int, Mapping[str, str]]
"""By the number of a session: the letters that take part, each with the label it is weighed under."""
Channels = Callable[[Sequence[tuple[Session, Pull]], Sequence[str]], Mapping[tuple[int, int], Mapping[str, Array]]]
"""Gives channels (n,) [SI] of pulls by the number of their session and their place; only those named, where some are."""
SETTING_WORDS = ("controller", "boost", "duty", "setting")
"""A factor whose name holds one of these is the setting of the boost controller."""


@dataclass(frozen=True)
class Placed:
    """A valid pull that takes part: the label it is weighed under, its place, set and day, all numbered through."""

    pull: Pull
    session: Session
    label: str
    order: int
    fitting: int
    day: int

    @property
    def row(self) -> str:
        """How a working names it."""
        return row_of(self.session, self.pull)


def row_of(session: Session, pull: Pull) -> str:
    """How a working, and a bundle, names a pull."""
    return f"pull {pull.place} ({pull.letter}), {pull.files[0].filename}, {session.held_on:%d %b %Y}"


def by_day(sessions: Sequence[Session]) -> list[Session]:
    """Sessions in the order of their days."""
    return sorted(sessions, key=lambda s: (s.held_on, s.number))


def pair_sides(sessions: Sequence[Session]) -> Sides:
    """Stock part and product of each session's card, as A and B."""
    return {s.number: {s.card.a: "A", s.card.b: "B"} for s in sessions}


def every_side(sessions: Sequence[Session]) -> Sides:
    """All letters: A and B by their labels, others by their letters behind a mark."""
    pairs = pair_sides(sessions)
    return {
        s.number: {letter: pairs[s.number].get(letter, f"·{letter}") for letter in s.card.letters} for s in sessions
    }


def placed(sessions: Sequence[Session], sides: Sides) -> list[Placed]:
    """The valid pulls that take part, in the order of days."""
    found: list[Placed] = []
    offset, first = 0, 0
    for day, session in enumerate(by_day(sessions)):
        full, mine = session.pulls, sides[session.number]
        numbers = [first + n for n in set_numbers([p.letter for p in full])]
        found += [
            Placed(pull, session, mine[pull.letter], offset + pull.place, number, day)
            for pull, number in zip(full, numbers, strict=True)
            if pull.counts and pull.letter in mine
        ]
        offset += session.last_place
        first = max(numbers, default=first) + 1
    return found


def correction_of(session: Session) -> Figure:
    """The factor of a session, with working (its weather and standard)."""
    air = Weather(session.temperature, session.pressure, session.humidity)
    return correction.correction(air, session.standard, f"session of {session.held_on:%d %b %Y}")


def factor_of(session: Session, standard: str = "") -> float:
    """What the logged torque is multiplied by: 1 where the files already carry corrected figures. standard: another than its own."""
    if session.already_corrected:
        return 1.0
    return correction_of(replace(session, standard=standard) if standard else session).value


def check_one_correction(sessions: Sequence[Session]) -> None:
    """Raise EvidenceError where some files carry corrected figures and others do not, or by different standards; raw figures are
    corrected anew, all by one."""
    standards = {(session.standard, session.already_corrected) for session in sessions}
    if len(standards) > 1 and any(corrected for _, corrected in standards):
        names = " and ".join(sorted({correction.STANDARDS[s].name for s, _ in standards}))
        raise EvidenceError(
            f"These sessions carry different corrections ({names}), which are never mixed. "
            "Choose sessions with one correction, or set one standard for both."
        )


def check_one_place(sessions: Sequence[Session]) -> None:
    """Raise EvidenceError where some of the sessions measured at the wheel, others at the crank."""
    if len({session.dyno.measured_at for session in sessions}) > 1:
        raise EvidenceError("Wheel and crank figures are never mixed: choose sessions of one kind of dyno.")


def is_of_several_dynos(sessions: Sequence[Session]) -> bool:
    """Whether these sessions were held on different dynos: only ratios may then be compared."""
    return len({session.dyno.number for session in sessions}) > 1


def widest_scatter(sessions: Sequence[Session]) -> Scatter:
    """What is known of the scatter of the dynos of these sessions, on their days: the widest."""
    return max((session.dyno.scatter for session in sessions), key=lambda s: s.pull)


def logged(
    sessions: Sequence[Session], sides: Sides, channels: Channels, names: Sequence[str] = OF_TORQUE
) -> list[Logged]:
    """The valid pulls that take part, with their channels. Raises EvidenceError for sessions that carry different corrections."""
    check_one_correction(sessions)
    taking_part = placed(sessions, sides)
    values = channels([(p.session, p.pull) for p in taking_part], names)
    standard = by_day(sessions)[-1].standard
    factors = {s.number: factor_of(s, standard) for s in sessions}
    of = {s.number: builds_on(s.card) for s in sessions}
    return [
        Logged(
            p.label,
            of[p.session.number].get(p.pull.letter, ""),
            p.order,
            p.fitting,
            p.day,
            p.row,
            values.get((p.session.number, p.pull.place), {}),
            p.session.pressure,
            factors[p.session.number],
        )
        for p in taking_part
    ]


def runs_of(sessions: Sequence[Session], sides: Sides, grid: Array, channels: Channels) -> list[PullCurve]:
    """The valid pulls of sessions as corrected curves on a grid [rad/s], in order. Sessions of different dynos are put on the newest
    one's level by ratios. Raises EvidenceError for sessions that carry different corrections."""
    return curves(logged(sessions, sides, channels), grid, is_of_several_dynos(sessions))


def builds_on(card: Card) -> dict[str, str]:
    """What each letter of a card is without the controller's setting: letters that differ in that alone are one build at other
    boosts."""
    settings = [k for k, name in enumerate(card.factors) if any(w in name.casefold() for w in SETTING_WORDS)]
    found = {}
    for v in card.variants:
        if v.levels and settings:
            found[v.letter] = "/".join(str(level) for k, level in enumerate(v.levels) if k not in settings)
        else:
            found[v.letter] = f"{folded(v.name)}|{'+'.join(sorted(folded(part) for part in v.parts))}"
    return found
