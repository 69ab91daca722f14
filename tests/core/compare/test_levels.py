"""Levels of scatter: what a design shows of its sets, what the records add, days that are joined."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from statsmodels.regression.mixed_linear_model import MixedLM

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.compare import compare, counted
from longbreath.core.compare.compare import PullCurve, compare_pulls, effect
from longbreath.core.compare.design import make_design
from longbreath.core.compare.levels import KNOWN, PULLS, SEEN, SINGLES, levels_of
from longbreath.core.compare.scatter import Scatter, set_numbers
from tests.core.compare.flat import GRID, runs


def sets_of(order: str, sd_set: float, seed: int = 1, effect_of_b: float = 3.0) -> tuple[np.ndarray, list[int]]:
    """One number per pull: a set lies off by itself, pulls scatter by one."""
    rng = np.random.default_rng(seed)
    fittings = set_numbers(order)
    off = rng.normal(0.0, sd_set, max(fittings) + 1)
    b = np.array([letter == "B" for letter in order])
    return 100.0 + effect_of_b * b + off[fittings] + rng.normal(0.0, 1.0, len(order)), fittings


def test_which_levels_a_design_can_see() -> None:
    for order, scatter, mode in (
        ("AAABBBAAA", Scatter(1.0), PULLS),
        ("AAABBBAAABBBAAA", Scatter(1.0), SEEN),
        ("ABABA", Scatter(1.0), SINGLES),
        ("AAABBBAAA", Scatter(1.0, fitting=0.5, fitting_df=8.0), KNOWN),
    ):
        design = make_design(order, range(1, len(order) + 1))
        assert levels_of(design, set_numbers(order), scatter=scatter).mode == mode


def test_the_standard_error_is_that_of_a_mixed_model_where_sets_are_alike_in_size() -> None:
    """Balanced sets without drift: REML (statsmodels' MixedLM) and the analysis of variance by hand agree."""
    order = "AAABBBAAABBB" * 2
    y, fittings = sets_of(order, 2.0, seed=3)
    b = np.array([float(letter == "B") for letter in order])
    matrix = np.column_stack([np.ones(len(order)), b])
    fitted = MixedLM(y, matrix, groups=np.array(fittings)).fit(reml=True)
    from longbreath.core.compare.levels import levels_for

    weights = (np.linalg.inv(matrix.T @ matrix) @ matrix.T)[1]
    found = levels_for(matrix, weights, fittings).spread(y[:, None], np.ones(1), 1.0)
    assert float(found.variance[0]) ** 0.5 == pytest.approx(float(fitted.bse[1]), rel=2e-3)
    assert found.df == pytest.approx(len(set(fittings)) - 2, abs=0.2)


def test_sets_that_scatter_widen_the_interval_and_what_pulls_alone_would_say_stands_beside() -> None:
    order = "AAABBBAAABBBAAA"
    y, fittings = sets_of(order, 3.0, seed=5)
    design = make_design(order, range(1, 16))
    alone = effect(y, design)
    seen = effect(y, design, levels=levels_of(design, fittings))
    assert seen.value == alone.value
    assert seen.half_width > 1.5 * alone.half_width
    assert seen.df < alone.df


def test_what_the_records_know_of_sets_is_added_where_a_test_cannot_see_them() -> None:
    """A-B-A, one fitting of B: Var(b) = σ²·Σw² + σ_set²·(1 + ¼ + ¼), by hand."""
    order = "AAABBBAAA"
    y, fittings = sets_of(order, 0.0, seed=4)
    design = make_design(order, range(1, 10))
    levels = levels_of(design, fittings, scatter=Scatter(1.0, fitting=2.0, fitting_df=1e6))
    assert levels.set_share == pytest.approx(1.5)
    within, _ = levels.squares(y[:, None])
    found = effect(y, design, levels=levels)
    assert found.standard_error**2 == pytest.approx(float(within[0]) * levels.pull_share + 4.0 * 1.5, rel=0.02)


def test_records_and_pulls_together_know_more_than_either() -> None:
    order = "AAABBBAAABBBAAA"
    y, fittings = sets_of(order, 1.0, seed=7)
    design = make_design(order, range(1, 16))
    own = effect(y, design, levels=levels_of(design, fittings))
    known = levels_of(design, fittings, scatter=Scatter(1.0, fitting=1.0, fitting_df=10.0))
    assert effect(y, design, levels=known).df > own.df


def test_sets_far_beyond_the_records_are_taken_as_they_are() -> None:
    order = "AAABBBAAABBBAAABBBAAA"
    y, fittings = sets_of(order, 6.0, seed=2)
    design = make_design(order, range(1, len(order) + 1))
    small = levels_of(design, fittings, scatter=Scatter(1.0, fitting=0.1, fitting_df=20.0))
    within, sets = small.squares(y[:, None])
    variance, df = small.set_variance(within, sets)
    assert df == small.set_df
    assert float(variance[0]) ** 0.5 > 3.0


def test_the_sentence_says_what_is_counted_and_what_is_not() -> None:
    plain = compare_pulls(runs("AAABBBAAA", noise=0.5), GRID)
    assert "does not count what the part scatters by coming off and going on again" in counted.counts(plain)
    assert counted.alone(plain, GRID[0], GRID[-1], 1, 0.4) is None
    records = Scatter(0.5, fitting=0.6, fitting_df=8.0, origin="cell 1, its records")
    known = compare_pulls(fitted("AAABBBAAA"), GRID, scatter=records)
    words = counted.counts(known)
    assert "from set to set" in words
    assert "cell 1, its records" in words
    assert "another dyno" in words
    assert "independent" in str(counted.alone(known, GRID[0], GRID[-1], 1, 1.0))


def fitted(order: str, day: int = 0, shift: float = 0.0, effect_of_b: float = 0.0, seed: int = 0) -> list[PullCurve]:
    made = runs(order, effect=effect_of_b, noise=0.5, seed=seed)
    sets = set_numbers(order)
    return [
        PullCurve(r.label, 100 * day + r.order, r.torque + shift, "", 100 * day + s, day)
        for r, s in zip(made, sets, strict=True)
    ]


def test_days_are_joined_within_themselves_so_that_a_days_level_falls_out() -> None:
    """Ten newton metres between the days move nothing: B − A is taken within each."""
    same = fitted("AAABBBAAA", effect_of_b=2.0) + fitted("AAABBBAAA", 1, 0.0, 2.0, seed=4)
    apart = fitted("AAABBBAAA", effect_of_b=2.0) + fitted("AAABBBAAA", 1, 10.0, 2.0, seed=4)
    one, other = compare_pulls(same, GRID), compare_pulls(apart, GRID)
    assert other.difference == pytest.approx(one.difference, abs=1e-9)
    assert other.half_width == pytest.approx(one.half_width, rel=1e-9)
    assert "B − A taken within each" in counted.counts(other)


def test_days_without_a_variant_in_common_are_not_joined() -> None:
    with pytest.raises(EvidenceError, match="through a variant that both hold"):
        compare_pulls(fitted("AAA") + fitted("BBB", 1, seed=2), GRID)


def test_a_day_of_one_label_adds_nothing_to_the_difference() -> None:
    day = fitted("AAABBBAAA", effect_of_b=2.0)
    alone = compare_pulls(day, GRID)
    joined = compare_pulls(day + fitted("AAA", 1, 7.0, seed=9), GRID)
    assert joined.difference == pytest.approx(alone.difference, abs=1e-9)


def test_days_that_disagree_widen_the_interval() -> None:
    one, other = fitted("AAABBBAAA", effect_of_b=0.0), fitted("AAABBBAAA", 1, 0.0, 6.0, seed=4)
    agreed = fitted("AAABBBAAA", 1, 0.0, 0.0, seed=11)
    records = Scatter(0.5, fitting=0.1, fitting_df=20.0)
    found, agreeing = (compare_pulls(one + day, GRID, scatter=records) for day in (other, agreed))
    assert found.levels.widened > 2.0
    assert agreeing.levels.widened == 1.0
    assert found.half_width.mean() > 2.0 * agreeing.half_width.mean()
    alone, calm = (compare_pulls(one + day, GRID) for day in (other, agreed))
    assert alone.half_width.mean() > 1.5 * calm.half_width.mean()


@settings(max_examples=10, deadline=None)
@given(st.permutations(range(9)), st.floats(0.2, 5.0))
def test_neither_the_order_of_the_list_nor_the_unit_changes_a_comparison(order: list[int], factor: float) -> None:
    """The pulls of a session may come in any order of files; torque in another unit is the same comparison."""
    made = fitted("AAABBBAAA", effect_of_b=1.0)
    plain = compare_pulls(made, GRID)
    mixed = compare_pulls([made[k] for k in order], GRID)
    assert mixed.difference == pytest.approx(plain.difference, rel=1e-9, abs=1e-9)
    scaled = [PullCurve(r.label, r.order, r.torque * factor, "", r.fitting, r.day) for r in made]
    other = compare_pulls(scaled, GRID)
    assert other.difference == pytest.approx(plain.difference * factor, rel=1e-6, abs=1e-9)
    assert other.half_width == pytest.approx(plain.half_width * factor, rel=1e-4)


def test_the_margin_of_a_use_decides_what_makes_no_difference() -> None:
    made = fitted("AAAAABBBBBAAAAA", effect_of_b=0.4)
    from longbreath.core.compare.bands import weigh
    from tests.core.compare.flat import BANDS

    wide = weigh(compare_pulls(made, GRID, margin_share=0.02), BANDS).bands[1]
    narrow = weigh(compare_pulls(made, GRID, margin_share=0.002), BANDS).bands[1]
    assert wide.margin_words == "2 %"
    assert wide.verdict == compare.NO_DIFFERENCE
    assert narrow.verdict != compare.NO_DIFFERENCE


def test_five_hundred_pulls_are_weighed() -> None:
    found = compare_pulls(fitted("A" * 170 + "B" * 160 + "A" * 170, effect_of_b=0.3), GRID)
    assert found.design.df == 497
    assert found.half_width.mean() < 0.3
