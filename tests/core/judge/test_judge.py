"""Each planted fault is named by its check, and clean pulls are left alone. The limits are common practice, no source."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from longbreath.core.basis.constants import RPM
from longbreath.core.judge import drive, limits, sensors
from longbreath.core.judge import others as beside_others
from longbreath.core.judge.check import Earlier, OtherPulls, PullFacts, PullRules, log_facts
from longbreath.core.judge.pull import checks_of, first_of
from longbreath.core.pull.pulls import Sweep, make_sweep
from longbreath.devices.made_engine import Day
from tests.core.compare.made import BOOSTED, BOOSTED_RULES, BREATHING, RULES, earlier, failed, judge, sweep_of

SET = tuple(earlier(sweep_of(BREATHING, 100 + n), RULES, n) for n in range(1, 4))
BOOSTED_SET = tuple(earlier(sweep_of(BOOSTED, 200 + n), BOOSTED_RULES, n) for n in range(1, 4))
NAMED = {
    "slip": "ratio",
    "gear": "gear",
    "converter": "ratio",
    "creep": "creep",
    "boost cut": "boost_cut",
    "controller at its stop": "controller",
    "sensor at its ceiling": "ceiling",
    "lean": "lean",
    "knock": "knock",
    "fuel pressure": "fuel",
    "injectors": "injectors",
    "frozen": "frozen",
    "jump": "jumps",
    "spike": "spikes",
    "cut": "end",
    "battery": "battery",
    "contradiction": "identity",
    "misfire": "mixture_scatter",
    "short": "coverage",
}
"""The check that each fault of the made cell must be named by."""
STOPS = {"creep", "boost cut", "lean", "knock", "fuel pressure", "injectors"}


@pytest.mark.parametrize("fault", NAMED)
@pytest.mark.parametrize("seed", [7, 8, 9])
def test_a_planted_fault_is_named_first_by_its_check(fault: str, seed: int) -> None:
    checks = judge(sweep_of(BOOSTED, seed, fault), BOOSTED_RULES, BOOSTED_SET, 4)
    keys = failed(checks)
    assert keys
    assert keys[0] == NAMED[fault]
    first = first_of(checks)
    assert first is not None
    assert first.advice
    assert (first.act == "stop") is (fault in STOPS)
    assert all(c.follows == NAMED[fault] for c in checks if c.passed is False and c.key != NAMED[fault])


@pytest.mark.parametrize("seed", range(20, 32))
def test_clean_pulls_pass_every_check(seed: int) -> None:
    assert failed(judge(sweep_of(BREATHING, seed), RULES, SET, 4)) == []
    assert failed(judge(sweep_of(BOOSTED, seed), BOOSTED_RULES, BOOSTED_SET, 4)) == []


def test_a_check_that_cannot_be_made_says_so_and_fails_nothing() -> None:
    bare = make_sweep({name: sweep_of(BREATHING, 3).channels[name] for name in ("speed", "torque")})
    checks = judge(bare, RULES)
    assert failed(checks) == []
    silent = {c.key for c in checks if c.passed is None}
    assert {"ratio", "gear", "rate", "boost_cut", "knock", "lean", "start", "battery", "set", "identity"} <= silent


def with_channel(name: str, change: object) -> Sweep:
    found = sweep_of(BOOSTED, 5)
    return make_sweep({**found.channels, name: change(found.channels[name])})  # type: ignore[operator]


def test_what_the_card_demands_and_nobody_logged_is_named_and_fails_nothing() -> None:
    rules = replace(RULES, demanded={"boost": ("boost", "manifold_pressure"), "duty": ("wheel_speed",)})
    check = limits.check_demanded(sweep_of(BREATHING, 3), rules)
    assert check.passed is None
    assert check.sentence == "Demanded by the card and not logged: duty."


def test_limits_of_the_card_stop_the_operator() -> None:
    hot = with_channel("exhaust", lambda v: v + 160.0)
    check = limits.check_limits(hot, BOOSTED_RULES)
    assert check.passed is False
    assert check.act == "stop"
    assert "Exhaust reached 97" in check.sentence
    assert "940" in check.sentence
    assert "own protection" in check.advice
    over = with_channel("manifold_pressure", lambda v: v + 70e3)
    assert "Boost reached" in limits.check_limits(over, BOOSTED_RULES).sentence
    one_row = with_channel("exhaust", lambda v: np.where(np.arange(v.size) == 90, v + 400.0, v))
    assert limits.check_limits(one_row, BOOSTED_RULES).passed is True


def beside(*others: tuple[float, bool], **name: str) -> OtherPulls:
    """OtherPulls of pulls with a battery voltage or intake air each, that count or not."""
    of = name.get("of", "battery")
    made = tuple(
        Earlier(n, "A", counts, PullFacts(np.zeros(0), 100.0, **{of: value}))  # type: ignore[arg-type]
        for n, (value, counts) in enumerate(others, start=1)
    )
    return OtherPulls(len(made) + 1, "A", made)


def test_a_series_by_setting_has_no_neighbours_but_its_own_set() -> None:
    """One factor alone: what a pull is to be like is said by its own set, not by settings beside it."""
    levels = {"A": (0,), "B": (1,), "C": (2,)}
    others = tuple(
        Earlier(n, letter, True, PullFacts(np.zeros(0), 100.0 + 20.0 * "ABC".index(letter)))
        for n, letter in enumerate("AABBCC", start=1)
    )
    odd = PullFacts(np.zeros(0), 60.0)
    assert beside_others.check_neighbours(odd, RULES, OtherPulls(7, "A", others, levels)).passed is None


def test_the_battery_is_held_against_pulls_that_count() -> None:
    mine = PullFacts(np.zeros(0), 100.0, battery=13.8)
    assert limits.check_battery(mine, beside((13.8, True), (12.6, False), (12.6, False))).passed is True
    assert limits.check_battery(mine, beside((12.6, True), (12.6, True), (13.8, False))).passed is False


@pytest.mark.parametrize("change", [20.0, -20.0])
def test_air_that_warms_and_air_that_cools_are_both_seen(change: float) -> None:
    mine = PullFacts(np.zeros(0), 100.0, air=293.0 + change)
    check = limits.check_air(mine, beside((293.0, True), of="air"))
    assert check.passed is False
    assert f"by {change:+.0f} K" in check.sentence
    pressure = PullFacts(np.zeros(0), 100.0, ambient=1e5 + 200.0 * change)
    assert limits.check_air(pressure, beside((1e5, True), of="ambient")).passed is False


def test_injector_duty_is_time_times_shots_a_second() -> None:
    """Definition: at 6,000 rpm a four-stroke injects 50 times a second; 10 ms each are half of the time."""
    n = 40
    made = Sweep({"speed": np.full(n, 6000 * RPM), "torque": np.ones(n), "injector_time": np.full(n, 0.010)})
    duty = limits.duty_of(made, PullRules(1.0, 2.0))
    assert duty is not None
    assert duty[0] == pytest.approx(0.5)
    two_stroke = limits.duty_of(made, PullRules(1.0, 2.0, fires=1.0))
    assert two_stroke is not None
    assert two_stroke[0] == pytest.approx(1.0)


def test_a_sensor_whose_range_is_known_is_at_its_end_there() -> None:
    """Common practice, no source: a 2-bar sensor tops out near 14 to 15 psi of boost."""
    rules = replace(BOOSTED_RULES, ceilings={"manifold_pressure": 181e3})
    check = sensors.check_ceiling(sweep_of(BOOSTED, 5), rules)
    assert check.passed is False
    assert "sensor is at its end" in check.sentence
    assert sensors.check_ceiling(sweep_of(BOOSTED, 5), replace(rules, ceilings={"manifold_pressure": 300e3})).passed


def test_a_coarse_channel_is_not_taken_for_a_frozen_one() -> None:
    coarse = with_channel("manifold_pressure", lambda v: np.round(v / 2e3) * 2e3)
    assert sensors.check_frozen(coarse, BOOSTED_RULES).passed is True
    slow = with_channel("exhaust", lambda v: np.round(v / 10.0) * 10.0)
    assert sensors.check_frozen(slow, BOOSTED_RULES).passed is True


def test_the_window_of_the_card_says_what_to_do() -> None:
    hot = judge(sweep_of(BREATHING, 4, day=Day(coolant=97.0)), RULES, SET, 4)
    start = next(c for c in hot if c.key == "start")
    assert start.passed is False
    assert start.advice == "Cool to 92\u202f°C first. Then repeat."
    cold = judge(sweep_of(BREATHING, 4, day=Day(coolant=70.0)), RULES, SET, 4)
    assert next(c for c in cold if c.key == "start").advice.startswith("Warm to 88")


def test_air_and_battery_that_changed_since_the_pull_before() -> None:
    keys = failed(judge(sweep_of(BREATHING, 4, day=Day(intake=34.0)), RULES, SET, 4))
    assert keys == ["air"]
    keys = failed(judge(sweep_of(BREATHING, 4, day=Day(battery=12.9)), RULES, SET, 4))
    assert keys == ["battery"]


def test_another_rise_of_speed_is_told() -> None:
    slow = sweep_of(replace(BREATHING, rise=430.0), 4)
    check = drive.check_rate(log_facts(slow, RULES), OtherPulls(4, "A", SET))
    assert check.passed is False
    assert "another load or brake setting" in check.sentence


def facts(mean: float, air: float | None = None) -> PullFacts:
    return PullFacts(np.full(53, mean), mean, air=air)


def test_a_part_that_fades_is_named_and_heat_is_told_from_it() -> None:
    before = (Earlier(1, "A", True, facts(190.0, 295.0)), Earlier(2, "A", True, facts(188.0, 295.2)))
    check = beside_others.check_fading(facts(185.5, 295.3), RULES, OtherPulls(3, "A", before))
    assert check.passed is False
    assert check.act == "stop"
    assert "a part that fades" in check.sentence
    hot = beside_others.check_fading(facts(185.5, 301.0), RULES, OtherPulls(3, "A", before))
    assert "heat" in hot.sentence
    steady = beside_others.check_fading(facts(188.5, 295.0), RULES, OtherPulls(3, "A", before))
    assert steady.passed is True
    apart = (before[0], replace(before[1], place=5))
    assert beside_others.check_fading(facts(180.0), RULES, OtherPulls(6, "A", apart)).passed is None


def test_a_pull_off_its_set_by_place_alone_is_told() -> None:
    curve = np.full(53, 190.0)
    curve[20:30] -= 15.0
    off = PullFacts(curve, float(curve.mean()))
    alike = tuple(Earlier(n, "A", True, facts(190.0)) for n in (1, 2, 3))
    check = beside_others.check_set(off, replace(RULES, noise=2.0), OtherPulls(4, "A", alike))
    assert check.passed is False
    assert "of the peak" in check.sentence


LEVELS = {letter: (a, b) for letter, (a, b) in zip("ABCDEF", ((a, b) for a in range(2) for b in range(3)), strict=True)}
EXPECTED = {letter: 200.0 + 9.0 * a + 21.0 * b + 2.0 * a * b for letter, (a, b) in LEVELS.items()}


def others_of(letter: str) -> tuple[Earlier, ...]:
    named = [v for v in LEVELS for _ in range(2) if v != letter]
    return tuple(Earlier(n, v, True, facts(EXPECTED[v] + 0.4 * (-1) ** n)) for n, v in enumerate(named, start=1))


@pytest.mark.parametrize("letter", sorted(LEVELS))
def test_in_a_factorial_the_neighbours_catch_a_misread_figure(letter: str) -> None:
    def beside(mean: float) -> list[str]:
        found = OtherPulls(20, letter, others_of(letter), LEVELS, 1, (55e3, 80e3, 105e3))
        checks = (
            beside_others.check_levels(facts(mean), RULES, found),
            beside_others.check_neighbours(facts(mean), RULES, found),
        )
        return [c.key for c in checks if c.passed is False]

    assert beside(EXPECTED[letter]) == []
    assert "neighbours" in beside(EXPECTED[letter] * 1.3558)
    assert "neighbours" in beside(EXPECTED[letter] - 60.0)


def test_more_boost_must_not_make_less() -> None:
    beside = OtherPulls(9, "C", (Earlier(1, "B", True, facts(221.0)),), LEVELS, 1, (55e3, 80e3, 105e3))
    check = beside_others.check_levels(facts(190.0), RULES, beside)
    assert check.passed is False
    assert "more boost made less torque" in check.sentence
    assert beside_others.check_levels(facts(240.0), RULES, beside).passed is True
    assert beside_others.check_neighbours(facts(190.0), RULES, beside).passed is None


def test_what_stays_known_of_a_pull_comes_back_from_json() -> None:
    known = log_facts(sweep_of(BREATHING, 3), RULES)
    again = PullFacts.from_json(known.to_json())
    assert again.curve == pytest.approx(known.curve, abs=1e-3, nan_ok=True)
    assert (again.mean, again.ratio, again.rate, again.battery) == (known.mean, known.ratio, known.rate, known.battery)
    assert checks_of(sweep_of(BREATHING, 3), RULES, facts=again)[0].passed


def test_a_pull_is_held_against_pulls_of_its_letter_that_count() -> None:
    known = log_facts(sweep_of(BREATHING, 1), RULES)
    others = tuple(
        Earlier(n, label, counts, known) for n, label, counts in ((2, "A", True), (3, "B", True), (4, "A", False))
    )
    assert [other.place for other in OtherPulls(5, "A", others).alike] == [2]
    assert [other.place for other in OtherPulls(3, "A", others).before] == [2]
