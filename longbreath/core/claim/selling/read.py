"""Reading selling text: its sentences, and what each says: figures, direction, place, about what."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from longbreath.core.basis.errors import InputError
from longbreath.core.claim.selling import words as lists
from longbreath.core.claim.selling.words import fold, has

MOST_LETTERS = 200_000
MOST_SENTENCES = 1500
LONGEST = 600
_NUMBER = r"(?<![\d.])(?:\d{1,3}(?:[ ,]\d{3}){1,3}(?:\.\d{1,6})?|\d{1,9}(?:\.\d{1,6})?|\.\d{1,6})(?!\d)"
_WORDS = "|".join(sorted(map(re.escape, lists.NUMBER_WORDS), key=len, reverse=True))
_UNITS = "|".join(sorted(map(re.escape, lists.UNIT_WORDS), key=len, reverse=True))
_FIGURE = re.compile(
    rf"(?P<sign>[+-])?\s?(?P<number>{_NUMBER})(?:\s?(?:-|to)\s?(?P<to>{_NUMBER}))?\s?-?(?P<unit>{_UNITS})(?![\w])"
)
_SPELT = re.compile(
    rf"(?<![\w])(?P<number>(?:(?:{_WORDS})(?:[ -]|(?: and ))){{0,7}}(?:{_WORDS}))[ -](?P<unit>{_UNITS})(?![\w])"
)
_RANGE = re.compile(rf"(?:between|from)\s+({_NUMBER})\s?(?:rpm)?\s?(?:and|to|-)\s?({_NUMBER})\s?rpm")
_DASHED = re.compile(rf"({_NUMBER})\s?(?:-|to)\s?({_NUMBER})\s?rpm")
_AT = re.compile(rf"(?:at|by)\s+({_NUMBER})\s?rpm")
_LIFT = re.compile(rf"(?:at\s+)?({_NUMBER})\s?(mm|inch|inches|in)\s+(?:of\s+)?(?:valve\s+)?lift")
_TIMES = re.compile(
    rf"({_NUMBER})\s?(?:[x×*]|times)\s?({_NUMBER})(?:\s?(?:{_UNITS}))?\s?(?:=|is|makes|gives|equals)\s?({_NUMBER})"
)
_SUM = re.compile(
    rf"({_NUMBER})\s?(?:{_UNITS})?\s?(?:\+|plus|and)\s?({_NUMBER})\s?(?:{_UNITS})?\s?(?:=|is|makes|gives|equals)\s?({_NUMBER})"
)
_BOTH = re.compile(rf"({_NUMBER})\s?({_UNITS})\s?\(({_NUMBER})\s?({_UNITS})\)")


@dataclass(frozen=True)
class Mention:
    """One figure of a sentence: what it measures, unit, value as it is written (the larger of a range, with the smaller), how many
    decimals it has, its text, and where it stands."""

    dimension: str
    unit: str
    value: float
    decimals: int
    text: str
    at: int
    sign: str = ""
    smaller: float | None = None


@dataclass(frozen=True)
class WordPlace:
    """Where a sentence says that it holds: a band by name, bounds or one speed [rpm], a lift [mm], the peak, everywhere."""

    band: str = ""
    bounds: tuple[float, float] | None = None
    speed: float | None = None
    lift: float | None = None
    peak: bool = False
    everywhere: bool = False

    @property
    def is_named(self) -> bool:
        """Whether any place but “everywhere” is named."""
        return bool(self.band or self.bounds or self.speed or self.lift or self.peak)


@dataclass(frozen=True)
class SaidSentence:
    """What one sentence says: its text as written and folded, figures, what it speaks of, direction (+1 more, −1 less, 0 none), place,
    whether it says “up to”, and whether it only supposes."""

    text: str
    folded: str
    mentions: tuple[Mention, ...]
    about: tuple[str, ...]
    direction: int
    place: WordPlace
    up_to: bool
    supposes: bool
    multiple: float | None = None

    @property
    def results(self) -> tuple[Mention, ...]:
        """Figures that are no size, speed or setting: what a result would be told in."""
        return tuple(m for m in self.mentions if m.dimension not in ("size", "speed", "pressure", "span", "distance"))


def sentences_of(text: str) -> list[str]:
    """The sentences of a text, one a line of a list as well. Raises InputError for more than a page's worth many times over."""
    if len(text) > MOST_LETTERS:
        raise InputError(f"More than {MOST_LETTERS} letters: give it in parts.", "text")
    found: list[str] = []
    for line in text.splitlines():
        found += [
            part.strip(" \t•*-–")
            for part in re.split(r"(?<=[.!?;])\s+(?=[A-Z0-9“\"(+])", line)
            if part.strip(" \t•*-–")
        ]
    if len(found) > MOST_SENTENCES:
        raise InputError(f"More than {MOST_SENTENCES} sentences: give it in parts.", "text")
    return [sentence[:LONGEST] for sentence in found]


def read(sentence: str) -> SaidSentence:
    """What a sentence says."""
    folded = fold(sentence)[:LONGEST]
    mentions = tuple(sorted(_mentions(folded), key=lambda m: m.at))
    about = tuple(name for name, phrases in lists.ABOUT.items() if has(folded, phrases))
    tokens = re.findall(r"[a-z][a-z'-]*", re.sub(r"\bup (?:to|high)\b", " ", folded))
    place = _place(folded)
    multiple = next((lists.MULTIPLES[w] for w in tokens if w in lists.MULTIPLES), None)
    return SaidSentence(
        sentence,
        folded,
        mentions,
        about,
        _direction(tokens, mentions),
        place,
        bool(re.search(r"\bup to\b|\bas much as\b", folded)),
        bool(has(folded, lists.CONDITIONAL)),
        multiple,
    )


def _mentions(folded: str) -> Iterator[Mention]:
    taken: list[tuple[int, int]] = []
    for found in _FIGURE.finditer(folded):
        taken.append(found.span())
        dimension, unit = lists.UNIT_WORDS[found["unit"]].split(" ", 1)
        first, last = number(found["number"]), number(found["to"]) if found["to"] else None
        digits = (found["to"] or found["number"]).partition(".")[2]
        value, smaller = (first, None) if last is None else (max(first, last), min(first, last))
        yield Mention(
            dimension, unit, value, len(digits), found[0].strip(), found.start(), found["sign"] or "", smaller
        )
    for found in _SPELT.finditer(folded):
        if any(found.start() < end and start < found.end() for start, end in taken):
            continue
        dimension, unit = lists.UNIT_WORDS[found["unit"]].split(" ", 1)
        value = spelt(found["number"])
        if value:
            yield Mention(dimension, unit, value, 0, found[0], found.start())


def number(text: str) -> float:
    """A written number: “1 200”, “1,200” and “.5” as well."""
    return float(text.replace(" ", "").replace(",", ""))


def spelt(text: str) -> float:
    """A number in words: “ninety”, “twenty-five”, “one hundred and ten”, “a dozen”; 0 for what is none."""
    total, part = 0.0, 0.0
    for word in re.split(r"[ -]+", text):
        value = float(lists.NUMBER_WORDS.get(word, 0))
        if word in ("hundred", "dozen"):
            part = (part or 1.0) * value
        elif word == "thousand":
            total, part = total + (part or 1.0) * value, 0.0
        elif word == "a":
            part = part or 0.0
        elif word != "and":
            part += value
    return total + part


def _direction(tokens: list[str], mentions: tuple[Mention, ...]) -> int:
    if _negated(tokens):
        return 0
    worded = [
        1 if w in lists.UP else -1 for w in tokens if w in lists.DOWN or (w in lists.UP and w not in lists.PLAIN_UP)
    ]
    if worded:
        return worded[0]
    signs = {m.sign for m in mentions if m.sign and m.dimension not in ("size", "speed")}
    return 1 if "+" in signs else -1 if "-" in signs else 0


def _negated(tokens: list[str]) -> bool:
    """Whether a sentence says that there is no difference."""
    text = " ".join(tokens)
    return bool(
        re.search(
            r"\bno (?:meaningful |proven |measurable )?(?:difference|change|gain|loss|more|less)\b|\bunchanged\b", text
        )
    )


def _place(folded: str) -> WordPlace:
    bounds = _RANGE.search(folded) or _DASHED.search(folded)
    at, lift = _AT.search(folded), _LIFT.search(folded)
    millimetres = None
    if lift is not None:
        millimetres = number(lift[1]) * (1.0 if lift[2] == "mm" else 25.4)
    return WordPlace(
        next((band for band, phrases in lists.BANDS.items() if has(folded, phrases)), ""),
        (number(bounds[1]), number(bounds[2])) if bounds is not None else None,
        number(at[1]) if at is not None and bounds is None else None,
        millimetres,
        bool(has(folded, lists.PEAK)),
        bool(has(folded, lists.EVERYWHERE) or has(folded, lists.FREE)),
    )


def arithmetic(folded: str) -> list[tuple[str, bool]]:
    """Products, sums and conversions of a folded sentence, each in words with whether it comes out."""
    found = []
    for made in _TIMES.finditer(folded):
        one, other, told = (number(made[k]) for k in (1, 2, 3))
        found.append((f"{one:g} × {other:g} = {one * other:g}, told as {told:g}", _near(one * other, told, made[3])))
    for made in _SUM.finditer(folded):
        one, other, told = (number(made[k]) for k in (1, 2, 3))
        found.append((f"{one:g} + {other:g} = {one + other:g}, told as {told:g}", _near(one + other, told, made[3])))
    for made in _BOTH.finditer(folded):
        found += _converted(made)
    return found


def _converted(made: re.Match[str]) -> Iterator[tuple[str, bool]]:
    """A figure told in two units, where both are units of one thing."""
    dimension, unit = lists.UNIT_WORDS[made[2]].split(" ", 1)
    other, second = lists.UNIT_WORDS[made[4]].split(" ", 1)
    one, two = lists.factor_of(unit, dimension), lists.factor_of(second, other)
    if dimension == other and one and two:
        there = number(made[1]) * one / two
        yield (
            f"{made[1]} {unit} = {there:.4g} {second}, told as {made[3]} {second}",
            _near(there, number(made[3]), made[3]),
        )


def _near(made: float, told: float, text: str) -> bool:
    """Whether a told number is what was made, within its last digit."""
    step = 10.0 ** -len(text.partition(".")[2])
    return abs(made - told) <= 0.5 * step + 0.02 * abs(made)
