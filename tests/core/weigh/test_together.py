"""Trials of one kind count alike: a quieter one wipes no louder one out, and a correction takes a place only where a slip is seen."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy import stats

from longbreath.core.basis.constants import RPM
from longbreath.core.case.state import state
from longbreath.core.compare.compare import Effect
from longbreath.core.weigh import together
from longbreath.core.weigh.fuel import FuelTrial
from longbreath.core.weigh.slips import is_slip
from tests.made import case as made


def effect(value: float, error: float, df: float = 8.0) -> Effect:
    return Effect(value, error, stats.t.ppf(0.975, df) * error, error, df, 0.0)


def test_two_that_agree_weigh_by_their_variance() -> None:
    """Inverse variance by hand: weights 4 and 1."""
    found, apart = together.effects([effect(1.0, 0.5), effect(2.0, 1.0)])
    assert not apart
    assert found.value == pytest.approx(1.2)
    assert found.standard_error == pytest.approx(1.0 / 5.0**0.5)
    assert found.df == pytest.approx(25.0 / (16.0 / 8.0 + 1.0 / 8.0))


def test_what_disagrees_is_widened_by_the_ratio_of_birge() -> None:
    found, apart = together.effects([effect(6.0, 0.3), effect(0.0, 0.3)])
    assert apart
    assert found.value == pytest.approx(3.0)
    assert found.standard_error == pytest.approx(0.3 / 2.0**0.5 * 200.0**0.5)
    assert found.df == 1.0
    assert found.low < 0.0


def test_intervals_hold_as_often_as_they_say() -> None:
    rng, held = np.random.default_rng(4), 0
    for _ in range(600):
        made_up = [rng.normal(1.0, 0.5, (2, 6)) for _ in range(3)]
        each = [stats.ttest_ind(b, a).confidence_interval() for a, b in made_up]
        effects = [effect((c.high + c.low) / 2, (c.high - c.low) / 2 / stats.t.ppf(0.975, 10), 10.0) for c in each]
        found, _ = together.effects(effects)
        held += found.low <= 0.0 <= found.high
    assert stats.binomtest(held, 600, 0.95).pvalue > 0.01


def quieter() -> tuple[dict[str, object], ...]:
    return tuple(
        {"label": label, "value": level + 0.1 * k, "distance": 0.5, "speed": 4500 * RPM, "weighting": "A"}
        for label, level in (("A", 84.0), ("B", 84.1))
        for k in range(5)
    )


def test_a_later_trial_stands_beside_an_earlier_one_and_disagreement_is_said() -> None:
    loud = made.trialled()
    both = replace(loud, also=(replace(loud, number=6, title="yard again", rows=quieter()),))
    case = replace(made.cases()["trial"], seen=both, miles=None)
    found = state(case, made.channels)
    conditions = dict(found.shown.conditions)
    assert conditions["Trial"] == "yard; yard again"
    assert "disagree" in conditions["Trials"]
    assert [f.kind for f in state(replace(case, seen=loud), made.channels).stated.facts] == ["loss"]
    assert [f.kind for f in found.stated.facts] == ["not proven"]


def test_a_trial_that_cannot_be_weighed_is_named_and_takes_nothing_away() -> None:
    loud = made.trialled()
    case = replace(made.cases()["trial"], miles=None)
    short = replace(loud, number=6, title="one reading", rows=loud.rows[:1])
    found = state(replace(case, seen=replace(loud, also=(short,))), made.channels)
    assert [f.kind for f in found.stated.facts] == ["loss"]
    assert "one reading cannot be weighed" in dict(found.shown.conditions)["Trials"]
    other = state(replace(case, seen=replace(short, also=(loud,))), made.channels)
    assert [f.kind for f in other.stated.facts] == ["loss"]


def test_fuel_trials_are_joined_by_the_logarithm_of_their_change() -> None:
    one = FuelTrial(-0.04, -0.06, -0.02, "gain", 0.03, 6, 6, 10.0, 1e-7, ("Drivers are taken into account.",), 96)
    both = together.fuels([one, replace(one, share=-0.042, low=-0.062, high=-0.022)])
    assert -0.042 < both.share < -0.04
    assert both.high - both.low < one.high - one.low
    assert (both.treated, both.runs, both.verdict) == (12, 192, "gain")
    far = together.fuels([one, replace(one, share=0.06, low=0.04, high=0.08, verdict="loss")])
    assert "disagree" in far.notes[-1]
    assert far.verdict == "not proven"
    assert together.fuels([one]) is one


ROWS = made.trialled().rows


def at(k: int, **to: object) -> list[dict[str, object]]:
    return [{**row, **to} if j == k else dict(row) for j, row in enumerate(ROWS)]


@pytest.mark.parametrize(
    ("was", "slip"),
    [
        (at(0), True),
        (at(2, value=842.0), True),
        (at(2, value=8.42), True),
        (at(2, value=94.2), True),
        (at(2, value=85.9), False),
        (at(2, label="B"), False),
        (at(2, value=842.0, distance=5.0), False),
        ([{**row, "value": 10.0 * float(str(row["value"]))} for row in ROWS], False),
        (at(0)[:-1], False),
    ],
)
def test_only_a_slip_that_can_be_seen_gives_its_place_up(was: list[dict[str, object]], slip: bool) -> None:
    assert is_slip(was, ROWS) is slip
