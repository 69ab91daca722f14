"""What one person took out, or let count, against the checks: until another agrees blind, a statement says what holds either way."""

from __future__ import annotations

from dataclasses import replace

import pytest

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.case import seen
from longbreath.core.case.alone import MOST, contested, otherwise
from longbreath.core.case.pulls import power, response
from longbreath.core.case.weigh import weigh
from longbreath.core.compare.compare import GAIN, NOT_PROVEN
from tests.made import case as made
from tests.made import forger

PASSED = seen.Judgement(True, "all checks pass", True, "Long Breath")
FAILED = seen.Judgement(False, "slip", True, "Long Breath")


def said(valid: bool, agreed_by: str = "") -> seen.Judgement:
    return seen.Judgement(valid, "by hand", False, "Ada", agreed_by)


@pytest.mark.parametrize(
    ("judgements", "alone"),
    [
        ((PASSED,), False),
        ((PASSED, said(True)), False),
        ((PASSED, said(False)), True),
        ((PASSED, said(False, "Bo")), False),
        ((FAILED, said(True)), True),
        ((FAILED, said(False)), False),
        ((PASSED, said(False), PASSED), False),
        ((said(True),), True),
    ],
)
def test_a_pull_is_on_one_persons_word_where_he_says_otherwise_than_its_checks(
    judgements: tuple[seen.Judgement, ...], alone: bool
) -> None:
    assert replace(made.pull(1, "A"), judgements=judgements).is_contested is alone


def shop(gain: float = 0.0, agreed_by: str = "", out: tuple[int, ...] = (4,)) -> tuple[forger.Shop, seen.Test]:
    """A day of which some pulls were taken out by hand."""
    found = forger.Shop(3, gain=gain)
    found.pull(found.open(), forger.PLAN)
    session = found.known[1]
    pulls = tuple(
        replace(p, judgements=(PASSED, said(False, agreed_by))) if p.place in out else p for p in session.pulls
    )
    found.known[1] = replace(session, pulls=pulls)
    return found, found.test(1)


def test_a_gain_is_one_only_where_it_is_one_with_and_without() -> None:
    here, test = shop(0.03)
    at = (1, 4)
    here.logs[at] = here.logs[at] | {"torque": 0.9 * here.logs[at]["torque"]}
    found = weigh(test, here.channels).weighing
    agreed = weigh(shop(0.03, "Bo")[1], here.channels).weighing
    assert {item.verdict for item in agreed.bands} == {GAIN}
    assert {item.verdict for item in found.bands} == {NOT_PROVEN}
    for one, both in zip(agreed.bands, found.bands, strict=True):
        assert both.effect.low < one.effect.low
        assert both.effect.high >= one.effect.high
    assert found.comparison.half_width.min() > agreed.comparison.half_width.max()
    assert "with pull 4 (B)" in found.comparison.either_way[0]


def test_what_holds_either_way_is_stated_and_both_are_printed() -> None:
    here, test = shop(0.06)
    found = weigh(test, here.channels)
    assert {item.verdict for item in found.weighing.bands} == {GAIN}
    printed = dict(power(test, found, "", here.channels).shown.conditions)
    assert "as it stands: +" in printed["By hand, not agreed"]
    assert "with pull 4 (B): +" in printed["By hand, not agreed"]


def test_many_are_turned_over_all_together() -> None:
    _, test = shop(out=tuple(range(1, MOST + 2)))
    assert len(contested(test)) == MOST + 1
    assert [words for words, _ in otherwise(test)] == [f"with all {MOST + 1} turned over"]
    assert len(list(otherwise(shop(out=(1, 4))[1]))) == 3


def test_what_stands_on_one_persons_word_alone_is_no_evidence() -> None:
    here = forger.Shop(4)
    here.pull(here.open(), "AABBA")
    session = here.known[1]
    last = replace(session.pulls[3], judgements=(FAILED, said(True)))
    here.known[1] = replace(session, pulls=(*session.pulls[:3], last, session.pulls[4]))
    with pytest.raises(EvidenceError, match=r"Without pull 4 \(B\), on which .* Let somebody look a second time"):
        weigh(here.test(1), here.channels)
    agreed = replace(session.pulls[3], judgements=(FAILED, said(True, "Bo")))
    here.known[1] = replace(session, pulls=(*session.pulls[:3], agreed, session.pulls[4]))
    assert weigh(here.test(1), here.channels).weighing.comparison.either_way == ()


def test_response_and_equal_boost_want_it_settled() -> None:
    test = made.tested()
    session = test.sessions[0]
    out = replace(session.pulls[0], judgements=(PASSED, said(False)))
    test = replace(test, sessions=(replace(session, pulls=(out, *session.pulls[1:])),))
    found = weigh(test, made.channels)
    assert power(test, found, "as set", made.channels).grounded.dyno.alone == ()  # type: ignore[union-attr]
    assert response(test, found, made.channels).grounded.dyno.alone == ("pull 1 (A)",)  # type: ignore[union-attr]
