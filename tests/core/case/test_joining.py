"""Which sessions are one test, what keeps another apart, and what a later card or band may still change."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from typing import Any

import pytest

from longbreath.core.case import seen
from longbreath.core.case.builds import builds_of
from longbreath.core.case.joining import join, visits_of, why_apart
from longbreath.core.case.placing import check_one_correction
from longbreath.core.case.pulls import looks_words, power
from longbreath.core.case.weigh import weigh
from tests.made import case as made
from tests.made import forger

NEXT = date(2026, 5, 20)
ONE = made.session(1, "AAABBBAAA")
OTHER = made.session(2, "AAABBBAAA", day=NEXT)


def changed(**to: Any) -> seen.Session:
    return replace(OTHER, **to)


def card(**to: Any) -> seen.Session:
    return replace(OTHER, card=replace(OTHER.card, **to))


def variant(**to: Any) -> seen.Session:
    first, *rest = OTHER.card.variants
    return card(variants=(replace(first, **to), *rest))


def on_b(**lines: str) -> seen.Session:
    assert OTHER.sheet_b is not None
    return replace(OTHER, sheet_b=replace(OTHER.sheet_b, lines={**OTHER.sheet_b.lines, **lines}))


@pytest.mark.parametrize(
    ("other", "why"),
    [
        (OTHER, ""),
        (changed(temperature=305.0, gear="3rd", standard="din_70020"), ""),
        (changed(sheet_a=None, sheet_b=None), ""),
        (changed(dyno=replace(OTHER.dyno, number=2)), "on another dyno"),
        (changed(already_corrected=True), "with figures that its files corrected otherwise"),
        (card(tune_mode=""), "by another way of tuning or holding boost"),
        (card(also_changed="the coolant"), "with something else that differed between A and B"),
        (variant(parts=("another elbow",)), "of other builds"),
        (variant(name="Controller at 55 %"), "at another setting"),
        (variant(levels=(1,)), "at another setting"),
        (on_b(fuel="E85"), "with something else that differed between A and B"),
        (on_b(vehicle="mark 7"), "on another vehicle"),
    ],
)
def test_what_keeps_two_sessions_apart_is_said(other: seen.Session, why: str) -> None:
    assert why_apart(ONE, other) == why
    assert join({1: ONE, 2: other}, 1) == {1: "", 2: why}


def test_a_cause_that_can_be_looked_up_takes_a_session_out_while_another_is_left() -> None:
    late = replace(OTHER, dyno=replace(OTHER.dyno, calibration_due=date(2026, 5, 15)))
    assert join({1: ONE, 2: late}, 1)[2] == "left out: the dyno was past its calibration, due on 15 May 2026"
    assert join({1: ONE, 2: OTHER}, 1, {2})[2] == "left out: a finding on the engine puts it in doubt"
    assert join({1: ONE, 2: OTHER}, 1, {1, 2}) == {1: "", 2: ""}


def test_a_session_that_compares_nothing_joins_nothing() -> None:
    only_a = made.session(3, "AAA", day=NEXT)
    assert join({1: ONE, 3: only_a}, 1)[3] == "no pull of B counts"
    assert join({1: ONE, 3: only_a}, 3) == {1: "nothing to join it with", 3: ""}


def test_visits_stand_in_the_order_in_which_their_outcomes_were_known() -> None:
    early = replace(OTHER, first_file=made.AT - timedelta(days=1))
    assert [v.number for v in visits_of({1: ONE, 2: early}, {})] == [2, 1]
    assert [v.number for v in visits_of({1: ONE, 2: early}, {1: "on another dyno"})] == [2]
    filled = {n: replace(ONE, number=n, plan=1, card=replace(ONE.card, planned=18)) for n in (1, 2)}
    test = replace(made.tested(), visits=visits_of(filled, {}))
    assert [(s.planned, s.counted) for s in test.looks] == [(18, 18)]


def test_margin_and_bands_are_those_from_before_the_first_outcome() -> None:
    first, later = (
        seen.Visit(n, made.DAY, made.AT + timedelta(days=n), n, 9, 6, 3, m) for n, m in ((7, 0.02), (1, 0.001))
    )
    test = replace(made.tested(), visits=(first, later), bands_set=made.AT + timedelta(days=8))
    assert (test.margin, test.bands_late) == (0.02, True)
    assert weigh(test, made.channels).weighing.comparison.margin_share == 0.02
    stated = power(test, weigh(test, made.channels), "as set", made.channels)
    assert dict(stated.shown.conditions)["Margin"].startswith("2 % of A, as the first card said")


def test_a_look_says_what_it_costs() -> None:
    test = made.tested()
    assert looks_words(test).startswith("session 2 in which A and B were seen, at the end of its card’s plan")
    assert "0.22 %" in looks_words(test)
    short = replace(test, visits=(seen.Visit(1, made.DAY, made.AT, 1, 9, 5, 2),))
    assert "2 of 9 pulls short" in looks_words(short)
    assert "2 pulls beyond" in looks_words(replace(test, visits=(seen.Visit(1, made.DAY, made.AT, 1, 9, 7, 4),)))
    assert "the first" in looks_words(replace(test, visits=()))


def test_days_are_joined_and_a_day_without_a_return_adds_the_little_it_knows() -> None:
    shop = forger.Shop(5, gain=0.03)
    for letters in ("AAABBBAAA", "AAABBBAAA"):
        shop.pull(shop.open(), letters)
    both = weigh(shop.test(1), shop.channels).weighing.comparison
    assert (both.design.days, both.count("B"), both.design.drift) == (2, 6, True)
    one = weigh(replace(shop.test(1), sessions=(shop.known[1],)), shop.channels).weighing.comparison
    assert both.design.leverage < one.design.leverage
    shop.pull(shop.open(), "AAABBB")
    more = weigh(shop.test(1), shop.channels).weighing.comparison
    assert more.design.drift
    assert both.design.leverage * 0.7 < more.design.leverage < both.design.leverage


def test_what_is_another_thing_on_another_day_belongs_to_the_day() -> None:
    both = replace(made.tested(), sessions=(on_b(tune="T8"), ONE))
    assert both.sessions[0].sheet_a is not None
    alike = {**both.sessions[0].sheet_a.lines, "tune": "T8"}
    sheets = (replace(both.sessions[0], sheet_a=replace(both.sessions[0].sheet_a, lines=alike)), ONE)
    found = builds_of(replace(both, sessions=sheets))
    assert dict(found.same)["Tune"] == "14 May 2026: T7; 20 May 2026: T8"
    assert "tune" not in {d.line for d in found.differing}
    assert "tune" in {d.line for d in builds_of(both).differing}
    assert builds_of(replace(both, sessions=(OTHER, replace(ONE, sheet_b=None)))).vehicles == ("mark 41", None)


def test_raw_figures_are_corrected_anew_by_one_standard() -> None:
    other = replace(OTHER, standard="din_70020")
    check_one_correction([ONE, other])
    level = {
        s.number: weigh(replace(made.tested(), sessions=(s,)), made.channels).weighing.comparison.a.mean()
        for s in (ONE, other)
    }
    assert level[1] != pytest.approx(level[2], rel=1e-4)
    test = replace(made.tested(), sessions=(OTHER, replace(ONE, standard="din_70020")))
    assert weigh(test, made.channels).weighing.comparison.a.mean() == pytest.approx(
        weigh(replace(test, sessions=(OTHER, ONE)), made.channels).weighing.comparison.a.mean()
    )
