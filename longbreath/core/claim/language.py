"""What people may write beside the facts: a description of the part, and names and notes that the sheet prints.

Neither can be held against the evidence, so neither may speak of what only evidence can say. A description holds no numerals,
number words, units, comparing or all-embracing words, and nothing of results, money, approval or proof.
"""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass
from difflib import get_close_matches
from functools import lru_cache
from itertools import pairwise

from longbreath.core.claim.vocabulary import CONCEALING, HIDING, NOT_STRONG, PHRASES, RECORD, SHELVES, STRONG

LETTERS = "is no letter or plain punctuation: a description is plain words"
NUMERAL = "is a numeral: figures stand in the facts, with their interval"
SPACED = "are letters set apart: write plain words"
HIDES = "a sheet advises nobody to hide a part from an inspection or a series."
RECORD_SAYS = "a name or a note on a sheet speaks of no result."
_PLAIN = set(" \n.,;:!?'’‘“”\"()-–—/&")
_ENDS_IER = frozenset(
    ["carrier", "barrier", "supplier", "pier", "frontier", "courier", "soldier", "glacier", "cavalier"]
)
_CLOSE = 0.82
"""How alike a misspelt word is to the one it stands for (difflib's ratio). Tried on the words of the tests."""


@dataclass(frozen=True)
class Refused:
    """A word that may not stand, as it was written, and why."""

    word: str
    why: str

    @property
    def sentence(self) -> str:
        """The refusal as a sentence."""
        return f"“{self.word}” {self.why}."


def check_description(text: str, language: str = "en") -> Refused | None:
    """The first thing in a description that may not stand, or None. Raises KeyError for a language without a list."""
    shelves = SHELVES[language]
    if found := _strange(text):
        return found
    words = _words(text)
    for written, folded in words:
        for form in _forms(folded):
            for shelf in shelves:
                if _listed(form, shelf.words):
                    return Refused(written, shelf.why)
        if folded.endswith(("ier", "iest")) and folded not in _ENDS_IER:
            return Refused(written, shelves[3].why)
        if written.isupper() and len(written) > 1 and re.fullmatch("[IVXLCDM]+", written):
            return Refused(written, NUMERAL)
    return _spaced(text, shelves[1].words) or _phrase(words, language) or _hidden(words)


@lru_cache(8192)
def find_in_record(text: str) -> Refused | None:
    """The first thing in a name, note or reason that speaks of a result, or None."""
    plain = unicodedata.normalize("NFKC", text)
    if found := re.search(r"\+\s*\d[\d.,]*(?![\d.,]|\s*(?:mm|cm|in|bar|°))", plain):
        return Refused(found[0].strip(), RECORD_SAYS)
    if odd := next((c for c in plain if unicodedata.category(c) == "Cf" or _is_foreign(c)), None):
        return Refused(odd, "is no letter of this language.")
    for written, folded in _words(re.sub(r"(?<=\d)(?=[a-zA-Z])", " ", plain)):
        if any(_listed(form, RECORD) for form in _forms(folded)):
            return Refused(written, RECORD_SAYS)
    return None


@lru_cache(8192)
def find_concealment(text: str) -> Refused | None:
    """The first words that advise to hide a part from an inspection, a series or a buyer, or None."""
    words = _words(unicodedata.normalize("NFKC", text))
    run = f" {' '.join(folded for _, folded in words)} "
    for phrase in CONCEALING:
        if f" {phrase}" in run:
            return Refused(phrase, HIDES)
    for written, folded in words:
        if any(_listed(form, HIDING) for form in _forms(folded)):
            return Refused(written, HIDES)
    return None


def _fold(text: str) -> str:
    return "".join(c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c))


def _is_foreign(character: str) -> bool:
    """Whether it is a letter that is no Latin one, with or without an accent; the signs of units are none."""
    if character in "µμΩλØø⌀" or not character.isalpha():
        return False
    return not all(c.isascii() or unicodedata.combining(c) for c in _fold(character))


def _strange(text: str) -> Refused | None:
    """A numeral in any script, or a sign that is neither letter nor plain punctuation."""
    for character in text:
        if character.isnumeric() or unicodedata.category(character).startswith("N"):
            return Refused(character, NUMERAL)
        if character in _PLAIN:
            continue
        if not character.isalpha() or _is_foreign(character) or unicodedata.normalize("NFKC", character) != character:
            return Refused(character if character.isprintable() else f"U+{ord(character):04X}", LETTERS)
    return None


def _words(text: str) -> list[tuple[str, str]]:
    """Words as written and folded; what hyphens join stands joined, and in its pieces."""
    found = []
    for match in re.finditer(r"[^\W\d_]+(?:[-–’'][^\W\d_]+)*", text):
        pieces = [piece for piece in re.split(r"[-–’']", match[0]) if piece]
        if len(pieces) > 1:
            found.append((match[0], _fold("".join(pieces))))
            found.append((match[0], _fold("-".join(pieces))))
        found += [(piece, _fold(piece)) for piece in pieces]
    return found


def _forms(word: str) -> tuple[str, ...]:
    """A word, and the word without letters drawn out ("mooore" is "more")."""
    return tuple(dict.fromkeys((word, re.sub(r"(.)\1{2,}", r"\1", word), re.sub(r"(.)\1{2,}", r"\1\1", word))))


def _listed(word: str, words: frozenset[str]) -> bool:
    if word in words:
        return True
    return any(word[:end] + "*" in words for end in range(3, len(word) + 1))


def _spaced(text: str, units: frozenset[str]) -> Refused | None:
    """Letters set apart ("n i n e t y", "h.p.")."""
    if found := re.search(r"\b(?:[^\W\d_][\s.,\-–/]+){2,}[^\W\d_]\b", text):
        return Refused(found[0], SPACED)
    for found in re.finditer(r"\b([^\W\d_])[\s.\-–/]+([^\W\d_])\b", text):
        if _fold(found[1] + found[2]) in units:
            return Refused(found[0], SPACED)
    return None


def _phrase(words: list[tuple[str, str]], language: str) -> Refused | None:
    run = f" {' '.join(folded for _, folded in words)}"
    for phrase, shelf in PHRASES[language].items():
        if f" {phrase}" in run:
            return Refused(phrase, shelf.why)
    return None


def _single(word: str) -> str:
    """A word with its doubled letters once."""
    return re.sub(r"(.)\1", r"\1", word)


_SINGLE = [_single(word) for word in sorted(STRONG)]


def _hidden(words: list[tuple[str, str]]) -> Refused | None:
    """A strong word inside another, split over two, or misspelt by a letter."""
    why = "holds or hides a word that is refused: results and numbers stand in the facts"
    pairs = [(f"{a[0]} {b[0]}", a[1] + b[1]) for a, b in pairwise(words)]
    for written, folded in (*words, *pairs):
        if folded in NOT_STRONG:
            continue
        if any(strong in folded for strong in STRONG):
            return Refused(written, why)
        if len(folded) > 5 and " " not in written and get_close_matches(_single(folded), _SINGLE, 1, _CLOSE):
            return Refused(written, why)
    return None
