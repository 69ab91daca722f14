"""A unit that was read as another is asked about: a level that no pull of this engine ever showed."""

from __future__ import annotations

import numpy as np
import pytest

from longbreath.core.judge.check import Earlier, OtherPulls, PullFacts, PullRules
from longbreath.core.judge.others import SCALES, check_scale

RULES = PullRules(200.0, 700.0)


def facts(mean: float) -> PullFacts:
    return PullFacts(np.full(50, mean), mean)


def beside(*means: float, counts: bool = True, **more: object) -> OtherPulls:
    others = tuple(Earlier(place, "A", counts, facts(mean)) for place, mean in enumerate(means, start=1))
    return OtherPulls(9, "B", others, **more)  # type: ignore[arg-type]


@pytest.mark.parametrize("factor", SCALES)
def test_each_factor_of_a_unit_is_seen(factor: float) -> None:
    found = check_scale(facts(200.0 * factor * 1.01), RULES, beside(198.0, 200.0, 203.0))
    assert found.passed is False
    assert SCALES[factor] in found.sentence


@pytest.mark.parametrize("share", [0.8, 0.97, 1.0, 1.05, 1.2, 1.28, 1.45])
def test_what_a_part_or_a_fault_may_do_is_none(share: float) -> None:
    assert check_scale(facts(200.0 * share), RULES, beside(200.0, 200.0)).passed is True


def test_days_before_count_where_none_of_this_day_does() -> None:
    assert check_scale(facts(271.0), RULES, beside(days_before=(200.0, 201.0))).passed is False
    assert check_scale(facts(200.0), RULES, beside(271.0, days_before=(200.0,))).passed is False
    assert check_scale(facts(271.0), RULES, beside(271.0, counts=False)).passed is None
    assert check_scale(facts(271.0), RULES, beside()).passed is None


def test_a_series_of_settings_has_levels_of_its_own() -> None:
    assert check_scale(facts(271.0), RULES, beside(200.0, levels={"B": (1,)})).passed is None


def test_the_factors_are_those_of_the_units() -> None:
    """lb-ft, kgf·m and hp in N·m and kW: NIST SP 811, appendix B.8, from memory."""
    assert [round(f, 4) for f in SCALES][:2] == [1.3558, 0.7376]
    assert np.prod(list(SCALES)[:2]) == pytest.approx(1.0, rel=1e-4)
    assert list(SCALES)[4] * list(SCALES)[5] == pytest.approx(1.0, rel=1e-4)
    assert 1.0 / 0.7457 - 1.3558 < 0.02 * 1.3558  # kW read as hp is as large: one question for both
