"""Sentences with lengths in the viewer’s units."""

from __future__ import annotations

import pytest

from longbreath.core.basis.sentence import Sentence


@pytest.mark.parametrize(
    ("system", "words"), [("metric", "an edge of 0.9 mm leaves 3.5 mm"), ("us", "an edge of 0.037 in leaves 0.136 in")]
)
def test_a_sentence_is_said_in_the_viewers_units(system: str, words: str) -> None:
    said = Sentence("an edge of {0} leaves {1}", (0.00093, 0.00346))
    assert said.words(system).replace("\u00a0", " ") == words
    assert Sentence("nothing to measure").words(system) == "nothing to measure"
