"""Health of the engine, steady points and typed figures: rules of the trade (common practice, no source) and closed forms."""

from __future__ import annotations

from datetime import date

import numpy as np
import pytest
from scipy import stats

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.judge.check import PullRules
from longbreath.core.judge.health import Look, baseline_age, doubts, figures_say
from longbreath.core.judge.steady import SteadyPoint, checks_of_point, compare_points
from longbreath.core.judge.typed import check_rows, check_typed

BAR = 1e5


@pytest.mark.parametrize(
    ("kind", "figures", "before", "state", "words"),
    [
        ("compression", [12.4, 12.1, 12.3, 12.2], [], "sound", "within"),
        ("compression", [12.4, 10.9, 12.3, 12.2], [], "finding", "Cylinder 2"),
        ("compression", [11.2, 11.1, 11.0, 11.2], [12.4, 12.3, 12.3, 12.4], "finding", "fell by"),
        ("leak_down", [0.06, 0.08, 0.05, 0.07], [], "sound", "Cylinder 2"),
        ("leak_down", [0.06, 0.24, 0.05, 0.07], [], "finding", "more than a fifth"),
        ("leak_down", [0.06, 0.15, 0.05, 0.07], [0.05, 0.05, 0.05, 0.05], "finding", "at the last look"),
        ("turning", [25.0], [17.0], "finding", "turns harder"),
        ("turning", [18.0], [17.0], "sound", ""),
        ("oil", [], [], "sound", ""),
    ],
)
def test_what_figures_say(kind: str, figures: list[float], before: list[float], state: str, words: str) -> None:
    scale = BAR if kind == "compression" else 1.0
    found = figures_say(kind, [v * scale for v in figures], [v * scale for v in before])
    assert found[0] == state
    assert words in found[1]


def test_figures_that_cannot_be_are_refused() -> None:
    with pytest.raises(InputError, match="less than nought"):
        figures_say("compression", [-1.0])
    with pytest.raises(InputError, match="at most 100"):
        figures_say("leak_down", [1.4])
    with pytest.raises(InputError, match="what was looked at"):
        figures_say("mood", [1.0])


def look(number: int, day: int, kind: str, state: str) -> Look:
    return Look(number, date(2026, 5, day), kind, state)


def test_a_finding_puts_the_pulls_since_the_last_good_look_in_doubt_until_a_repair() -> None:
    log = [look(1, 2, "compression", "sound"), look(2, 9, "oil", "sound"), look(3, 14, "compression", "finding")]
    (doubt,) = doubts(log)
    assert [doubt.covers(date(2026, 5, d)) for d in (1, 2, 3, 14, 30)] == [False, False, True, True, True]
    (mended,) = doubts([*log, look(4, 20, "repair", "done")])
    assert [mended.covers(date(2026, 5, d)) for d in (14, 19, 20, 30)] == [True, True, False, False]
    (never,) = doubts([look(5, 14, "coolant", "finding")])
    assert never.covers(date(2020, 1, 1))


def test_a_baseline_goes_stale_by_pulls_by_days_and_by_what_was_done() -> None:
    day = date(2026, 5, 1)
    assert not baseline_age(day, date(2026, 5, 20), 12, []).is_stale
    assert baseline_age(day, date(2026, 5, 20), 61, []).is_stale
    assert baseline_age(day, date(2026, 8, 20), 3, []).is_stale
    changed = baseline_age(day, date(2026, 5, 20), 3, [look(1, 10, "change", "done")])
    assert changed.is_stale
    assert "since then: change" in changed.words


def steady(rpm: float = 2500.0, wobble: float = 5.0, drift: float = 0.0, seconds: float = 8.0) -> dict[str, np.ndarray]:
    rng = np.random.default_rng(4)
    time = np.arange(0.0, seconds, 0.1)
    torque = 60.0 * (1.0 + drift * time / seconds) + rng.normal(0, 0.3, time.size)
    return {"time": time, "speed": (rpm + rng.normal(0, wobble, time.size)) * RPM, "torque": torque}


@pytest.mark.parametrize(
    ("more", "failed"),
    [({}, []), ({"seconds": 3.0}, ["long"]), ({"wobble": 60.0}, ["steady"]), ({"drift": 0.3}, ["load"])],
)
def test_a_steady_point_is_long_and_still(more: dict[str, float], failed: list[str]) -> None:
    assert [c.key for c in checks_of_point(steady(**more), idle=False) if c.passed is False] == failed


def test_points_are_compared_by_welch_at_their_own_speed_only() -> None:
    a, b = [60.1, 60.4, 59.8], [62.2, 62.6, 62.1]
    points = [SteadyPoint("A", n, {"speed": 2500 * RPM, "torque": v}) for n, v in enumerate(a)]
    points += [SteadyPoint("B", n + 5, {"speed": 2510 * RPM, "torque": v}) for n, v in enumerate(b)]
    points += [SteadyPoint("B", 9, {"speed": 4000 * RPM, "torque": 90.0})]
    (found,) = compare_points(points, ("A", "B"))
    interval = stats.ttest_ind(b, a, equal_var=False).confidence_interval(0.95)
    assert found.half == pytest.approx((interval.high - interval.low) / 2)
    assert (found.counts, found.verdict) == ((3, 3), "higher")
    assert compare_points(points[:1] + points[3:4], ("A", "B")) == ()


RULES = PullRules(1800 * RPM, 7000 * RPM)


def row(rpm: float, torque: float | None, power: float | None = None) -> tuple[float, float | None, float | None]:
    return rpm * RPM, torque, power


def failing(rows: list[tuple[float, float | None, float | None]], pulls: list[np.ndarray] | None = None) -> list[str]:
    return [c.key for c in check_typed(rows, RULES, pulls or []) if c.passed is False]


def test_typed_figures_contradict_themselves_their_neighbours_and_their_pulls() -> None:
    good = [row(2000, 180), row(3000, 190), row(4000, 200), row(5000, 195)]
    assert failing(good) == []
    assert failing([row(4500, 200, 94_248)]) == []  # 200 N·m × 471.24 rad/s
    assert failing([row(4500, 200, 128_000)]) == ["identity"]
    assert failing([row(9000, 150)]) == ["coverage"]
    assert failing([*good[:2], row(4000, 120), good[3]]) == ["spikes"]
    assert failing(good, [np.full(53, 195.0)]) == []
    assert failing(good, [np.full(53, 140.0)]) == ["set"]


@pytest.mark.parametrize(
    ("rows", "message"),
    [
        ([], "at least one speed"),
        ([row(50, 100)], "no speed of an engine"),
        ([row(4000, None)], "neither torque nor power"),
        ([row(4000, -5.0)], "not negative"),
        ([row(4000, 10), row(4000, 11)], "twice"),
    ],
)
def test_rows_that_hold_nothing_are_refused(rows: list[tuple[float, float | None, float | None]], message: str) -> None:
    with pytest.raises(InputError, match=message):
        check_rows(rows)
