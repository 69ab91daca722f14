"""False alarms over 2,000 clean made pulls, a check at a time, with the upper limit of 95 % confidence (Clopper and Pearson 1934).

Run: bin/test --long. The table is printed; each check must stay under one per cent by its limit.
"""

from __future__ import annotations

from collections import Counter

import pytest
from scipy.stats import beta

from longbreath.core.judge.check import Earlier
from longbreath.core.judge.pull import checks_of
from longbreath.devices.made_engine import Day
from tests.core.compare.made import BOOSTED, BOOSTED_RULES, BREATHING, RULES, earlier, failed, judge, sweep_of

PULLS = 2_000
MOST = 0.01


def upper(alarms: int, pulls: int) -> float:
    """The one-sided limit of 95 % confidence of a share."""
    return float(beta.ppf(0.95, alarms + 1, pulls - alarms)) if alarms < pulls else 1.0


def test_the_limit_is_the_rule_of_three_where_nothing_was_seen() -> None:
    """Handbook: 3/n bounds a share that was never seen in n (Hanley and Lippman-Hand 1983)."""
    assert upper(0, 2_000) == pytest.approx(3 / 2_000, rel=0.01)
    assert upper(12, 2_000) < MOST < upper(14, 2_000)


@pytest.mark.long
def test_clean_pulls_are_left_alone(capsys: pytest.CaptureFixture[str]) -> None:
    alarms: Counter[str] = Counter()
    made: Counter[str] = Counter()
    seed = 10_000
    for engine, rules in ((BREATHING, RULES), (BOOSTED, BOOSTED_RULES)):
        for _ in range(PULLS // 2 // 5):
            others: tuple[Earlier, ...] = ()
            for place in range(1, 6):  # a set of five pulls as it grows, each judged beside those before it
                seed += 1
                sweep = sweep_of(engine, seed, day=Day(intake=21.0 + 0.4 * place, coolant=89.5))
                checks = judge(sweep, rules, others, place)
                alarms.update(failed(checks))
                made.update(check.key for check in checks if check.passed is not None)
                others = (*others, earlier(sweep, rules, place))
    table = [(key, made[key], alarms[key], upper(alarms[key], made[key])) for key in made]
    with capsys.disabled():
        print("\ncheck                 made   alarms   limit of 95 %")
        for key, count, seen, limit in sorted(table, key=lambda row: -row[3]):
            print(f"{key:20} {count:6} {seen:8} {limit:10.2%}")
    keys = {check.key for check in checks_of(sweep_of(BOOSTED, 1), BOOSTED_RULES)}
    assert {"levels", "neighbours"} == keys - set(made)  # those need a factorial: tests/core/judge/test_judge.py
    assert all(limit < MOST for _, count, _, limit in table if count >= PULLS // 2)
