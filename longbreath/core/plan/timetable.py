"""A dyno day from its card: what begins when, when it ends, and what to leave out first when time runs short."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from longbreath.core.plan.designs import PullSet


@dataclass(frozen=True)
class Times:
    """Minutes: getting ready, a pull, cooling down after it, a swap, a tuning round, packing up; numbers of warm-up pulls and of
    tuning rounds a variant; margin as a share of the whole [1]. The defaults are common practice, no source."""

    ready: float = 30.0
    pull: float = 1.0
    cool_down: float = 4.0
    swap: float = 45.0
    warm_up: int = 2
    round: float = 20.0
    rounds: int = 0
    pack: float = 20.0
    margin: float = 0.15


@dataclass(frozen=True)
class DayLine:
    """One line of the day: its beginning and length [min], what is done, and its kind (ready, swap, warm, tune, set, pack, margin)."""

    begins: float
    minutes: float
    what: str
    kind: str
    letter: str = ""

    @property
    def ends(self) -> float:
        """Minutes after the beginning of the day."""
        return self.begins + self.minutes


def timetable(sets: Sequence[PullSet], times: Times, change: Callable[[str, str], float]) -> tuple[DayLine, ...]:
    """The lines of a day in order. change: minutes of a change from one letter to another."""
    lines: list[DayLine] = []

    def add(minutes: float, what: str, kind: str, letter: str = "") -> None:
        if minutes > 0.0:
            lines.append(DayLine(lines[-1].ends if lines else 0.0, minutes, what, kind, letter))

    each = times.pull + times.cool_down
    add(times.ready, "strap down, connect, check the list", "ready")
    add(times.warm_up * each, f"{times.warm_up} warm-up pull{'s' * (times.warm_up != 1)}, not counted", "warm")
    tuned: set[str] = set()
    for before, now in pairwise((None, *sets)):
        assert now is not None
        if before is not None and before.letter != now.letter:
            add(change(before.letter, now.letter), f"swap {before.letter} for {now.letter}", "swap", now.letter)
        if times.rounds and now.letter not in tuned:
            tuned.add(now.letter)
            words = f"{times.rounds} tuning round{'s' * (times.rounds != 1)} of {now.letter}"
            add(times.rounds * times.round, words, "tune", now.letter)
        add(now.pulls * each, f"{now.pulls} pulls of {now.letter}, cooling down after each", "set", now.letter)
    add(times.pack, "unstrap, pack up, keep the files", "pack")
    add(times.margin * (lines[-1].ends if lines else 0.0), "margin for what goes wrong", "margin")
    return tuple(lines)


def length(lines: Sequence[DayLine]) -> float:
    """Minutes of the whole day."""
    return lines[-1].ends if lines else 0.0


@dataclass(frozen=True)
class LeftOut:
    """One thing that can be left out: what, the minutes it saves, the smallest gain that is provable then (None: none is)."""

    what: str
    sets: tuple[PullSet, ...]
    saves: float
    provable: float | None
    price: str = ""

    def worth(self, now: float) -> float:
        """What a minute saved costs in provable gain, as a share of today's [1/min]."""
        return float("inf") if self.provable is None else max(self.provable / now - 1.0, 0.0) / max(self.saves, 1e-9)


def leave_out(
    sets: Sequence[PullSet],
    length_of: Callable[[Sequence[PullSet]], float],
    provable: Callable[[Sequence[PullSet]], float | None],
) -> tuple[LeftOut, ...]:
    """What could be left out, the cheapest minute first: a pull of each set, the last set, the letter that comes last.

    provable: smallest gain by these sets, None where drift or a variant could not be told any more.
    """
    whole, now = length_of(sets), provable(sets) or 1.0
    choices: list[tuple[str, tuple[PullSet, ...], str]] = []
    if min(s.pulls for s in sets) > 2:
        choices.append(("one pull of each set", tuple(PullSet(s.letter, s.pulls - 1) for s in sets), ""))
    seen = list(dict.fromkeys(s.letter for s in sets))
    if len(seen) > 2:
        last = seen[-1]
        choices.append(
            (f"variant {last}", tuple(s for s in sets if s.letter != last), f"nothing is known of {last} then")
        )
    if len(sets) > 3:
        choices.append((f"the last set, of {sets[-1].letter}", tuple(sets[:-1]), ""))
    elif len(sets) == 3:
        choices.append(
            (
                f"the return to {sets[-1].letter}",
                tuple(sets[:-1]),
                "drift and part cannot be told apart then: give it up last",
            )
        )
    found = [LeftOut(what, kept, whole - length_of(kept), provable(kept), price) for what, kept, price in choices]
    return tuple(sorted(found, key=lambda f: (f.provable is None, "drift" in f.price, f.worth(now))))
