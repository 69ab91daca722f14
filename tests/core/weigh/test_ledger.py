"""The ledger: measured taken off, bounded counted in full, unknown makes a package; stacks that add up."""

from __future__ import annotations

import numpy as np
import pytest

from longbreath.core.basis.errors import InputError
from longbreath.core.compare import bands as verdicts
from longbreath.core.compare import compare
from longbreath.core.compare.compare import Effect, compare_pulls
from longbreath.core.weigh import ledger
from longbreath.core.weigh.figures import net_figures, stack_figure
from longbreath.core.weigh.ledger import BOUNDED, MEASURED, UNKNOWN, LedgerLine
from tests.core.compare.flat import BANDS, GRID, runs
from tests.core.compare.quick import bands_alone
from tests.outside.sessions import at_least


def weighed(effect: float = 4.0, seed: int = 0, order: str = "AAABBBAAA") -> verdicts.Weighing:
    return verdicts.weigh(compare_pulls(runs(order, effect=effect, noise=0.4, seed=seed), GRID), BANDS)


def line_of(
    own: verdicts.Weighing, weighing: verdicts.Weighing, shares: bool = False, line: str = "bonnet"
) -> LedgerLine:
    value, error, df, effects = ledger.measured(weighing.comparison, own.comparison, BANDS)
    return LedgerLine(
        line, line.capitalize(), MEASURED, "own day", value, error, df, shares_pulls=shares, of_band=effects
    )


def test_nothing_known_leaves_the_observed_and_a_package() -> None:
    found = ledger.net_of(weighed(), [LedgerLine("fuel", "Fuel", UNKNOWN)])
    assert not found.is_closed
    assert not found.moves
    assert found.unknown == ("Fuel",)
    assert found.bands[1].effect.value == pytest.approx(weighed().bands[1].effect.value)


def test_a_measured_effect_is_taken_off_with_its_own_uncertainty() -> None:
    weighing, own = weighed(4.0), weighed(1.5, seed=5)
    found = ledger.net_of(weighing, [line_of(own, weighing)])
    middle = found.bands[1].effect
    assert found.is_closed
    assert middle.value == pytest.approx(4.0 - 1.5, abs=0.8)
    parts = weighing.bands[1].effect.standard_error, own.bands[1].effect.standard_error
    assert middle.standard_error == pytest.approx(float(np.hypot(*parts)))
    assert [stage.kind for stage in found.stages[1]] == ["observed", MEASURED, "net"]
    assert sum(stage.value for stage in found.stages[1][:-1]) == pytest.approx(middle.value)


def test_tests_that_share_pulls_are_combined_the_careful_way() -> None:
    weighing, own = weighed(4.0), weighed(1.5, seed=5)
    apart, shared = (ledger.net_of(weighing, [line_of(own, weighing, s)]).bands[1].effect for s in (False, True))
    assert shared.standard_error > apart.standard_error
    assert shared.standard_error == pytest.approx(
        weighing.bands[1].effect.standard_error + own.bands[1].effect.standard_error
    )


def test_a_bound_counts_with_its_whole_range() -> None:
    weighing = weighed(4.0)
    low, high = ledger.bounded(weighing.comparison, -0.01, 0.0)
    found = ledger.net_of(weighing, [LedgerLine("fuel", "Fuel", BOUNDED, "", low=low, high=high)])
    before, after = weighing.bands[1].effect, found.bands[1].effect
    assert after.value == pytest.approx(before.value + 0.9, abs=0.03)
    assert after.half_width == pytest.approx(before.half_width + 0.9, abs=0.03)
    assert found.half_width == pytest.approx(weighing.comparison.half_width + 0.9, abs=0.05)


@pytest.mark.parametrize(("low", "high", "words"), [(0.01, 0.0, "ends before"), (-0.4, 0.1, "says nothing")])
def test_bounds_that_are_none(low: float, high: float, words: str) -> None:
    with pytest.raises(InputError, match=words):
        ledger.bounded(weighed().comparison, low, high)


def test_a_wide_bound_takes_a_gain_back() -> None:
    weighing = weighed(2.5)
    assert weighing.bands[1].verdict == compare.GAIN
    low, high = ledger.bounded(weighing.comparison, -0.02, 0.02)
    found = ledger.net_of(weighing, [LedgerLine("fuel", "Fuel", BOUNDED, "", low=low, high=high)])
    assert found.bands[1].verdict == compare.NOT_PROVEN


def test_a_test_that_does_not_cover_the_speeds_is_refused() -> None:
    weighing = weighed()
    short = compare_pulls([compare.PullCurve(r.label, r.order, r.torque[10:]) for r in runs("AAABBBAAA")], GRID[10:])
    with pytest.raises(InputError, match="does not cover"):
        ledger.measured(weighing.comparison, short, BANDS)


def test_two_that_act_on_one_thing_are_warned_of() -> None:
    weighing = weighed()
    low, high = ledger.bounded(weighing.comparison, -0.01, 0.01)
    lines = [LedgerLine(name, name, BOUNDED, "", low=low, high=high) for name in ("fuel", "injectors", "tyres")]
    assert ledger.net_of(weighing, lines).warnings == (
        "fuel and injectors both act on mixture and timing: measured alone, their effects may not simply add up.",
    )
    assert not ledger.net_of(weighing, [*lines[:1], LedgerLine("tune", "tune", UNKNOWN)]).warnings


def test_the_net_holds_the_truth_as_often_as_it_says() -> None:
    """A part worth 3 N·m pulled with a bonnet that costs 2, the bonnet measured on a day of its own: bias and coverage."""
    held, values, sessions = 0, [], 300
    with bands_alone():
        for seed in range(sessions):
            weighing, own = weighed(1.0, seed=2 * seed), weighed(-2.0, seed=2 * seed + 1)
            net = ledger.net_of(weighing, [line_of(own, weighing)])
            values.append(net.bands[1].effect.value)
            held += all(b.effect.low <= 3.0 <= b.effect.high for b in net.bands)
    assert np.mean(values) == pytest.approx(3.0, abs=4 * np.std(values) / sessions**0.5)
    assert at_least(held, sessions, 0.94)


def test_what_is_bounded_proves_no_equality_by_its_scatter_alone() -> None:
    """Equal within the margin by the pulls; with a bound as wide as the margin the whole interval has to lie inside, and does not."""
    weighing = weighed(0.0, order="AAAAAABBBBBBAAAAAA")
    assert weighing.bands[1].verdict == compare.NO_DIFFERENCE
    margin = weighing.bands[1].margin / weighing.bands[1].reference
    low, high = ledger.bounded(weighing.comparison, -margin, margin)
    found = ledger.net_of(weighing, [LedgerLine("bonnet", "Bonnet", BOUNDED, "shut", low=low, high=high)]).bands[1]
    assert found.effect.half_width > found.margin
    assert found.verdict == compare.NOT_PROVEN


def test_steps_that_add_up_and_steps_that_do_not() -> None:
    def step(value: float, error: float = 0.5) -> Effect:
        return Effect(value, error, 2 * error, 1.0, 8.0, 0.0)

    good = ledger.stack([step(3.0), step(2.0)], step(5.2))
    assert good.is_consistent
    assert good.miss == pytest.approx(0.2)
    bad = ledger.stack([step(3.0), step(2.0)], step(9.0))
    assert not bad.is_consistent
    assert bad.share == pytest.approx(4.0 / 9.0)
    assert "do not add up" in stack_figure(bad).working.notes[0]
    with pytest.raises(InputError, match="two steps"):
        ledger.stack([step(1.0)], step(1.0))


def test_figures_of_the_net_name_what_is_not_known() -> None:
    weighing = weighed()
    figures = net_figures(
        ledger.net_of(weighing, [line_of(weighed(1.0, seed=3), weighing), LedgerLine("fuel", "Fuel", UNKNOWN)])
    )
    assert figures["net-middle"].working.notes[0] == "Not known: Fuel. This is the result of a package."
    assert {"stage-middle-0", "stage-middle-1", "stage-middle-2"} <= set(figures)
