"""Designs of a test: in which order which variant is pulled how often, and how much swapping that takes."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from itertools import product
from random import Random
from string import ascii_uppercase

from longbreath.core.basis.errors import InputError

ALTERNATION, LADDER, FACTORIAL, SERIES, TUNING = "alternation", "ladder", "factorial", "series", "tuning"
DESIGNS = {
    ALTERNATION: "Alternation, A-B-A and longer",
    LADDER: "Ladder, A-B-C-A",
    FACTORIAL: "Factorial, every combination once",
    SERIES: "Series of settings, and back to the first",
    TUNING: "Tuning rounds, then A-B-A",
}
FREE = 3.0
"""A change that takes no more minutes than this costs nothing: its order is drawn by lot. Common practice, no source."""
MOST_CELLS = 48
"""Conditions of a factorial; more do not fit a day."""


@dataclass(frozen=True)
class PullSet:
    """Pulls of one variant in a row."""

    letter: str
    pulls: int


def letters(count: int) -> list[str]:
    """A, B … Z, AA, AB …: so many of them."""
    two = (a + b for a in ascii_uppercase for b in ascii_uppercase)
    return [*ascii_uppercase, *two][:count]


def alternation(
    pulls: int, fittings: int, returns: bool = True, pair: Sequence[str] = ("A", "B")
) -> tuple[PullSet, ...]:
    """A-B-A, A-B-A-B and on: B goes on `fittings` times; with a return A is pulled once more at the end."""
    a, b = pair
    found = [PullSet(letter, pulls) for _ in range(fittings) for letter in (a, b)]
    return (*found, PullSet(a, pulls)) if returns else tuple(found)


def ladder(pulls: int, rungs: Sequence[str], again: int = 1) -> tuple[PullSet, ...]:
    """A-B-C-A: every rung in turn, `again` times, and a return to the first."""
    return (*(PullSet(letter, pulls) for _ in range(again) for letter in rungs), PullSet(rungs[0], pulls))


@dataclass(frozen=True)
class Factor:
    """What is varied: its name, the minutes that a change takes, and its levels (the first is the reference)."""

    name: str
    minutes: float
    levels: tuple[str, ...]

    @property
    def is_free(self) -> bool:
        """Whether a change costs nothing."""
        return self.minutes <= FREE


def check_factors(factors: Sequence[Factor]) -> None:
    """Raise InputError for fewer than two factors, levels that are one or repeat, or more conditions than a day holds."""
    if len(factors) < 2:
        raise InputError("A factorial has at least two factors; one alone is a ladder or a series.", "factor_2")
    cells = 1
    for k, factor in enumerate(factors, start=1):
        if len(factor.levels) < 2:
            raise InputError(f"{factor.name} needs two levels or more, one a line.", f"factor_{k}")
        if len({level.casefold() for level in factor.levels}) < len(factor.levels):
            raise InputError(f"{factor.name} names a level twice.", f"factor_{k}")
        cells *= len(factor.levels)
    if cells > MOST_CELLS:
        raise InputError(
            f"These are {cells} conditions; {MOST_CELLS} are the most. Leave a level or a factor out.", "factor_1"
        )


def cells_of(factors: Sequence[Factor]) -> dict[str, tuple[int, ...]]:
    """Letter → level of each factor. A is the reference of all; B differs from it in the first factor alone."""
    every = list(product(*(range(len(f.levels)) for f in factors)))
    first = tuple(0 for _ in factors)
    second = (1, *first[1:])
    ordered = [first, second, *(c for c in every if c not in (first, second))]
    return dict(zip(letters(len(ordered)), ordered, strict=True))


def factorial(factors: Sequence[Factor], pulls: int, seed: int = 1) -> tuple[PullSet, ...]:
    """Every condition once and a return to the reference. What is slow to change is changed least, in the outermost place; what
    costs nothing is drawn by lot inside it; the rest goes to and fro.

    Raises InputError as `check_factors`.
    """
    check_factors(factors)
    by_cost = sorted(range(len(factors)), key=lambda k: -factors[k].minutes)
    draw, turns = Random(seed), [False] * len(factors)
    rows: list[tuple[int, ...]] = []

    def walk(depth: int, chosen: dict[int, int]) -> None:
        if depth == len(by_cost):
            rows.append(tuple(chosen[k] for k in range(len(factors))))
            return
        k = by_cost[depth]
        levels = list(range(len(factors[k].levels)))
        if factors[k].is_free and rows:
            draw.shuffle(levels)
        elif turns[k]:
            levels.reverse()
        turns[k] = not turns[k]
        for level in levels:
            walk(depth + 1, {**chosen, k: level})

    walk(0, {})
    of_cell = {cell: letter for letter, cell in cells_of(factors).items()}
    return (*(PullSet(of_cell[row], pulls) for row in rows), PullSet("A", pulls))


def order_of(sets: Sequence[PullSet]) -> list[str]:
    """The letters, one a pull."""
    return [s.letter for s in sets for _ in range(s.pulls)]


def change_minutes(
    factors: Sequence[Factor], cells: Mapping[str, tuple[int, ...]], usual: float
) -> Callable[[str, str], float]:
    """What a change between two letters takes [min]: the sum over the factors that change, or the usual swap without factors."""

    def between(one: str, other: str) -> float:
        if not factors or one not in cells or other not in cells:
            return usual
        return sum(f.minutes for f, a, b in zip(factors, cells[one], cells[other], strict=True) if a != b)

    return between
