"""The comparison against simulated truth where the part goes off and on again: each set lies off by itself, the dyno's records know
how far, or these pulls show it. `bin/test --long` judges 2,000 sessions a row; `python -m tests.outside.test_sets` prints the
table."""

from __future__ import annotations

import sys

import pytest

from longbreath.core.compare import compare
from tests.outside.sessions import Study, at_least, at_most, quickly, spread_out

MANY = 2000
LEAST, MOST, FALSE = 0.93, 0.97, 0.025
"""Bounds within which the band of the whole curve shall hold, and the largest share of false gains in the middle band."""
STUDIES = (
    Study("A-B-A, 3 a set, records of 8 degrees of freedom", sets=0.7, history=8),
    Study("A-B-A, 5 a set, records of 8", "A" * 5 + "B" * 5 + "A" * 5, sets=0.7, history=8),
    Study("A-B-A, 8 a set, records of 8", "A" * 8 + "B" * 8 + "A" * 8, sets=0.7, history=8),
    Study("A-B-A, 3 a set, records of 20, sets twice the pulls", sets=1.8, history=20),
    Study("A-B-A-B-A, 3 a set, records of 8", "AAABBBAAABBBAAA", sets=0.7, history=8),
    Study("A-B-A-B-A, 3 a set, no records", "AAABBBAAABBBAAA", sets=0.7),
    Study("A-B-A-B-A-B-A, 3 a set, no records", "AAABBBAAABBBAAABBBAAA", sets=0.9),
    Study("4, 3, 5 a set, records of 8", "AAAABBBAAAAA", sets=0.7, history=8),
    Study("3, 4, 3, 2, 4 a set, no records", "AAABBBBAAABBAAAA", sets=0.7),
    Study("two days of A-B-A, records of 8", "AAABBBAAA|AAABBBAAA", sets=0.7, history=8),
    Study("two days, one of them A-B-A-B-A, no records", "AAABBBAAA|AAABBBAAABBBAAA", sets=0.7),
    Study("A-B-A-B-A, 3 a set, no records, sets lie alike", "AAABBBAAABBBAAA", sets=0.0),
)
SHORT = (0, 5)


@pytest.mark.parametrize(
    "study",
    [s if k in SHORT else pytest.param(s, marks=pytest.mark.long) for k, s in enumerate(STUDIES)],
    ids=[s.name for s in STUDIES],
)
def test_the_band_holds_where_sets_scatter(study: Study, request: pytest.FixtureRequest) -> None:
    """Neither too narrow nor too wide, and false gains are rare."""
    found = spread_out(study, MANY) if request.config.getoption("--long") else quickly(study, 200)
    assert at_least(found.curve, found.sessions, LEAST)
    assert at_most(found.curve, found.sessions, MOST)
    assert at_most(found.verdicts[compare.GAIN] + found.verdicts["stated gain"], found.sessions, FALSE)


@pytest.mark.long
def test_without_records_and_with_too_few_sets_the_band_is_too_narrow_and_says_so() -> None:
    """What the page warns of is true: nothing is counted for sets, and the band holds less often than it says."""
    found = spread_out(Study("", sets=0.9), MANY)
    assert found.curve / found.sessions < 0.9


def table(sessions: int) -> list[str]:
    """Rows of the method note."""
    lines = [
        "| session | curve held, % | three bands held, % | verdicts of the middle band, nothing true |",
        "|---|---|---|---|",
    ]
    lines += [spread_out(study, sessions).line(study.name) for study in STUDIES]
    return [*lines, spread_out(Study("", sets=0.7), sessions).line("A-B-A, 3 a set, no records: sets are not counted")]


if __name__ == "__main__":
    print("\n".join(table(int(sys.argv[1]) if len(sys.argv) > 1 else MANY)))
