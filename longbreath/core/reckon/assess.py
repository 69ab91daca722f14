"""A candidate held against the target: figures of its columns, checks with shortfalls, go or no-go with the reason, what is owed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import Sentence
from longbreath.core.basis.working import Figure
from longbreath.core.reckon.candidates import FAMILIES, Candidate, Limits, Setting
from longbreath.core.reckon.checks import LimitCheck, limit
from longbreath.core.reckon.measures import area_of, disc, loss, tuned, turbo, velocity

GO, NO_GO, OPEN = "go", "no-go", "open"
DECK_MISS = 0.0005
"""A deck height that misses by more than this [m] needs another casting or a spacer (common practice)."""
ESSENTIAL = {
    "manifold": ("area", "length", "height"),
    "throttle body": ("bore",),
    "carburettor": ("bore",),
    "turbocharger": ("mass_flow", "pressure_ratio"),
    "porting step": ("wall",),
    "disc or crank": ("opens", "closes"),
    "other": (),
}
"""Columns without which nothing can be decided, by family."""


@dataclass(frozen=True)
class Assessed:
    """A candidate with figures by column, its checks, the verdict, what is owed before it can be decided, what of it cannot be, and
    remarks that decide nothing."""

    candidate: Candidate
    figures: dict[str, Figure]
    checks: tuple[LimitCheck, ...]
    owed: tuple[str, ...]
    problems: tuple[str, ...]
    remarks: tuple[str, ...]

    @property
    def failed(self) -> tuple[LimitCheck, ...]:
        """The checks that do not hold."""
        return tuple(check for check in self.checks if not check.holds)

    @property
    def verdict(self) -> str:
        """No-go where a check fails, open where something essential is owed or cannot be, else go."""
        return NO_GO if self.failed else OPEN if self.owed or self.problems or not self.checks else GO

    def reason(self, system: str) -> str:
        """Why, in sentences."""
        if self.failed:
            return " ".join(check.words.words(system) for check in self.failed)
        if self.problems:
            return f"A value of it cannot be: {' '.join(self.problems)}"
        if self.owed:
            return f"Nothing speaks against it yet; owed: {', '.join(self.owed)}."
        if not self.checks:
            return "The target asks nothing that is known of it."
        return "It holds against everything the target asks."


def assess(candidate: Candidate, limits: Limits, setting: Setting) -> Assessed:
    """Hold a candidate against the target. Whatever cannot be worked out is owed, never guessed."""
    figures: dict[str, Figure] = {}
    problems: list[str] = []
    remarks: list[str] = []
    checks: list[LimitCheck] = []
    for make in (velocity, loss, tuned, turbo, disc):
        try:
            made, found, said = make(candidate, limits, setting)
        except InputError as error:
            problems.append(f"{error.message} ({error.field.replace('_', ' ')})" if error.field else error.message)
            continue
        figures |= made
        checks += found
        remarks += said
    checks += _plain(candidate, limits)
    return Assessed(
        candidate, figures, tuple(checks), _owed(candidate, limits, setting), tuple(problems), tuple(remarks)
    )


def _plain(candidate: Candidate, limits: Limits) -> list[LimitCheck]:
    """Checks of one value against one limit."""
    number = candidate.number
    found = limit(
        "height",
        number("height"),
        limits.height,
        "length",
        "It stands {0}; there is room for {1}.",
        "It stands {0} and there is room for {1}: {2} too high.",
    )
    found += limit(
        "lip",
        number("lip"),
        limits.lip,
        "length",
        "The largest lip is {0}; {1} is allowed.",
        "The largest lip is {0}, {1} is allowed: {2} to fill or to machine.",
    )
    found += limit(
        "access",
        number("access"),
        limits.access,
        "minutes",
        "{0} to get at it; {1} are allowed.",
        "{0} to get at it, {1} are allowed: {2} too long.",
    )
    found += limit(
        "price",
        number("price"),
        limits.price,
        "money",
        "It costs {0}; {1} are allowed.",
        "It costs {0}, {1} are allowed: {2} too dear.",
    )
    wall = number("wall")
    if wall is not None and limits.wall is not None:
        values = ((wall, "length"), (limits.wall, "length"), (limits.wall - wall, "length"))
        holds = wall >= limits.wall
        words = "{0} of wall is left, {1} must stay." if holds else "{0} of wall is left, {1} must stay: {2} too thin."
        found.append(LimitCheck("wall", holds, Sentence(words, values=values)))
    deck = number("deck")
    if deck is not None and limits.deck is not None:
        holds = abs(deck - limits.deck) <= DECK_MISS
        values = ((deck, "length"), (limits.deck, "length"), (abs(deck - limits.deck), "length"))
        words = (
            "It is made for this deck."
            if holds
            else "It is made for a deck of {0}, this one is {1}: the faces miss by {2}."
        )
        found.append(LimitCheck("deck", holds, Sentence(words, values=values)))
    return found


_ASKED = (
    ("height", "height"),
    ("deck", "deck"),
    ("lip", "lip"),
    ("wall", "wall"),
    ("access", "access"),
    ("price", "price"),
)


def _owed(candidate: Candidate, limits: Limits, setting: Setting) -> tuple[str, ...]:
    """What must be known before it can be decided: essential columns, and whatever the target puts a limit on."""
    columns = {c.key: c for c in FAMILIES[candidate.family]}
    wanted = list(ESSENTIAL[candidate.family])
    wanted += [key for key, limit in _ASKED if getattr(limits, limit) is not None and key in columns]
    if limits.loss is not None and "loss" in columns and "loss" not in candidate.values:
        wanted.append("flow")
    unknown = [key for key in dict.fromkeys(wanted) if not _is_known(candidate, key)]
    names = [_NAMES.get(key, columns[key].label.lower()) for key in unknown]
    if limits.loss is not None and "loss" in columns and setting.head_flow is None and "loss" not in candidate.values:
        names.append("flow of the head alone")
    return tuple(names)


_NAMES = {
    "area": "section",
    "length": "runner length",
    "height": "how high it stands",
    "flow": "flow of the part alone",
}
_ANYWAY: dict[str, Callable[[Candidate], bool]] = {"area": lambda c: area_of(c) is not None}


def _is_known(candidate: Candidate, key: str) -> bool:
    return key in candidate.values or (key in _ANYWAY and _ANYWAY[key](candidate))
