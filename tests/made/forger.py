"""A shop whose truth is known, and people in it who want a statement to be found: they play legal moves until one is, or give up."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.case import seen
from longbreath.core.case.joining import join, visits_of
from longbreath.core.case.placing import Array
from longbreath.core.case.weigh import Weighed, weigh
from longbreath.core.compare import planning
from longbreath.core.compare.bands import Band
from longbreath.core.compare.compare import GAIN
from longbreath.core.compare.scatter import Scatter
from tests.made import case as made

SPEED = np.linspace(1900.0, 6600.0, 60) * RPM
LEVEL, OF_PULL, OF_SET = 200.0, 0.9, 0.5
PLAN = "AAABBBAAA"
MOST_SESSIONS = 6


@dataclass
class Shop:
    """A shop with one part on one dyno: gain of the part [1], what was pulled, and what was done to the records since."""

    seed: int
    gain: float = 0.0
    known: dict[int, seen.Session] = field(default_factory=dict)
    doubted: set[int] = field(default_factory=set)
    bands: tuple[Band, ...] = made.BANDS
    bands_late: bool = False
    logs: dict[tuple[int, int], Mapping[str, Array]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.rng = np.random.default_rng(self.seed)
        pull, fitting = (np.sqrt(self.rng.chisquare(df) / df) for df in (30, 12))
        self.scatter = Scatter(OF_PULL * pull, 30.0, OF_SET * fitting, 12.0, origin="its records")
        self._levels: dict[int, tuple[float, float]] = {}
        self._set: dict[int, tuple[str, float]] = {}

    def open(self, no_matter: float = 0.01, planned: str = PLAN, **card: str) -> int:
        """A new session, with what its card says otherwise; returns its number."""
        number = len(self.known) + 1
        day = made.DAY + timedelta(days=number)
        bare = made.session(number, "", day=day)
        dyno = replace(bare.dyno, scatter=self.scatter)
        count = sum(letter in "AB" for letter in planned)
        new = replace(bare.card, no_matter=no_matter, planned=count, **card)  # type: ignore[arg-type]
        at = made.AT + timedelta(days=number)
        same = seen.Sheet(date(2026, 1, 1), made.SAME)
        self.known[number] = replace(bare, dyno=dyno, card=new, first_file=at, sheet_a=same, sheet_b=same)
        self._levels[number] = self.rng.normal(0.0, 2.0), self.rng.normal(0.0, 0.15)
        return number

    def pull(self, number: int, letters: str) -> None:
        """Pull letters in their order; a set begins where the letter changes."""
        for letter in letters:
            session = self.known[number]
            place = session.last_place + 1
            if self._set.get(number, ("", 0.0))[0] != letter:
                self._set[number] = letter, self.rng.normal(0.0, OF_SET)
            level, drift = self._levels[number]
            rough = np.convolve(self.rng.normal(size=SPEED.size + 8), np.ones(9) / 3.0, "valid")
            noise = OF_PULL * (0.7 * self.rng.normal() + 0.7 * rough)
            torque = LEVEL * (1.0 + self.gain * (letter == "B")) + level + drift * place + self._set[number][1] + noise
            self.logs[number, place] = {"speed": SPEED, "torque": torque, "time": np.linspace(0.0, 12.0, SPEED.size)}
            pulls = (*session.pulls, made.pull(place, letter))
            self.known[number] = replace(session, pulls=pulls, last_place=place)

    def channels(
        self, wanted: Sequence[tuple[seen.Session, seen.Pull]], names: Sequence[str]
    ) -> Mapping[tuple[int, int], Mapping[str, Array]]:
        """What was logged."""
        return {(session.number, pull.place): self.logs[session.number, pull.place] for session, pull in wanted}

    def test(self, number: int) -> seen.Test:
        """The test that a session belongs to by now."""
        apart = join(self.known, number, self.doubted)
        used = sorted((n for n, why in apart.items() if not why), reverse=True)
        at = made.AT + timedelta(days=400) if self.bands_late else made.AT
        sessions = tuple(self.known[n] for n in used)
        return seen.Test(made.PART, sessions, (), self.bands, at, (), (), visits_of(self.known, apart))

    def weighings(self) -> Iterator[Weighed]:
        """Whatever may be stated by now, one for each setting that was pulled."""
        done = set()
        for number in self.known:
            test = self.test(number)
            key = tuple(s.number for s in test.sessions)
            if key in done:
                continue
            done.add(key)
            try:
                yield weigh(test, self.channels)
            except EvidenceError:
                continue

    def has_gained(self, least: float = 0.0) -> bool:
        """Whether a gain may be stated anywhere, in tests that returned to A, of at least a share of A [1]."""
        return any(
            item.verdict == GAIN and item.share >= least for found in self.weighings() for item in found.weighing.bands
        )


def stops_where_it_suits(shop: Shop) -> bool:
    """Looks after each pull from the seventh on, and pulls on beyond the plan."""
    number = shop.open()
    shop.pull(number, PLAN[:7])
    for letter in PLAN[7:] + "BBBAAA":
        if shop.has_gained():
            return True
        shop.pull(number, letter)
    return shop.has_gained()


def comes_again(shop: Shop) -> bool:
    """Pulls the whole plan anew until it shows a gain."""
    for _ in range(MOST_SESSIONS):
        shop.pull(shop.open(), PLAN)
        if shop.has_gained():
            return True
    return False


def changes_the_setting(shop: Shop) -> bool:
    """Each session under another tune mode or with other words on its card, so that it is joined with none before."""
    for number in range(MOST_SESSIONS):
        shop.pull(shop.open(also_changed=f"plugs, set {number}", tune_mode=("one tune", "")[number % 2]), PLAN)
        if shop.has_gained():
            return True
    return False


def leaves_what_begins_badly(shop: Shop) -> bool:
    """Ends a session after B where B looks weak, and opens another."""
    for _ in range(MOST_SESSIONS):
        number = shop.open()
        shop.pull(number, PLAN[:6])
        means = {
            letter: np.mean(
                [shop.logs[number, p.place]["torque"] for p in shop.known[number].pulls if p.letter == letter]
            )
            for letter in "AB"
        }
        if means["B"] > means["A"]:
            shop.pull(number, PLAN[6:])
        if shop.has_gained():
            return True
    return False


def finds_faults(shop: Shop) -> bool:
    """Writes a finding on the engine for every session that shows less of B."""
    for _ in range(MOST_SESSIONS):
        number = shop.open()
        shop.pull(number, PLAN)
        if shop.has_gained():
            return True
        logs = [(p.letter, shop.logs[number, p.place]["torque"].mean()) for p in shop.known[number].pulls]
        if np.mean([t for letter, t in logs if letter == "B"]) < np.mean([t for letter, t in logs if letter == "A"]):
            shop.doubted.add(number)
    return shop.has_gained()


def picks_bands(shop: Shop) -> bool:
    """Narrows the bands of use to where B shows most, after looking; and pulls again."""
    for _ in range(2):
        shop.pull(shop.open(), PLAN)
        for low in range(2000, 6000, 500):
            middle = (low + 250) * RPM
            shop.bands = (
                Band("low", low * RPM, middle),
                Band("middle", middle, (low + 500) * RPM),
                Band("top", (low + 500) * RPM, 6500 * RPM),
            )
            shop.bands_late = True
            if shop.has_gained():
                return True
    return False


def writes_a_smaller_margin(shop: Shop) -> bool:
    """Pulls again under a card by which nothing is too small to be said."""
    shop.pull(shop.open(0.02), PLAN)
    shop.pull(shop.open(0.001), PLAN)
    return shop.has_gained()


def plays_at_random(shop: Shop) -> bool:
    """Any of it, in any order."""
    for _ in range(MOST_SESSIONS):
        mode = str(shop.rng.choice(["one tune", "one tune", ""]))
        number = shop.open(float(shop.rng.choice([0.001, 0.01, 0.03])), tune_mode=mode)
        shop.pull(number, PLAN[: shop.rng.integers(6, 10)] + "BBA"[: shop.rng.integers(0, 4)])
        if shop.has_gained():
            return True
        if shop.rng.random() < 0.3:
            shop.doubted ^= {int(shop.rng.integers(1, number + 1))}
    return shop.has_gained()


STRATEGIES: tuple[Callable[[Shop], bool], ...] = (
    stops_where_it_suits,
    comes_again,
    changes_the_setting,
    leaves_what_begins_badly,
    finds_faults,
    picks_bands,
    writes_a_smaller_margin,
    plays_at_random,
)


def honest(shop: Shop) -> bool:
    """A day as the card plans it: now and then a hose bursts and the pull is taken again, one pull is forgotten, or there is a second
    day; what was found must be no less than what was said to matter."""
    number = shop.open()
    for place, letter in enumerate(PLAN, start=1):
        shop.pull(number, letter)
        if shop.rng.random() < 0.08:
            _bursts(shop, number)
            shop.pull(number, letter)
        if place == len(PLAN) - 1 and shop.rng.random() < 0.1:
            break
    if shop.rng.random() < 0.3:
        shop.pull(shop.open(), PLAN)
    return shop.has_gained(0.01)


def _bursts(shop: Shop, number: int) -> None:
    """The last pull lost a fifth of its torque, and its own check says so."""
    session = shop.known[number]
    place = session.last_place
    shop.logs[number, place] = shop.logs[number, place] | {"torque": 0.8 * shop.logs[number, place]["torque"]}
    last = made.pull(place, session.pulls[-1].letter, valid=False)
    said = (seen.Judgement(False, "torque fell away", True, "Long Breath"),)
    shop.known[number] = replace(session, pulls=(*session.pulls[:-1], replace(last, judgements=said)))


def promised(shop: Shop) -> float:
    """The gain [1] that a card of this shop promises to prove, four times in five."""
    return planning.provable(shop.scatter, PLAN, LEVEL, "").value / LEVEL
