"""The comparison against simulated truth: coverage, false verdicts, the promise of a card. Two hundred sessions a row, or two
thousand with --long, each judged by a confidence limit; `python -m tests.outside.test_audit_comparison` prints the table."""

from __future__ import annotations

import sys

import pytest

from longbreath.core.compare import compare, planning
from longbreath.core.compare.scatter import Scatter
from tests.outside.sessions import (
    LEVEL,
    Study,
    at_least,
    at_most,
    heat_soak,
    quickly,
    run,
    spread_out,
    straight,
    warm_up,
)

MANY = 2000
PROMISED = {
    n: planning.provable(Scatter(0.703, origin="made up"), "A" * n + "B" * n + "A" * n, LEVEL, "made up").value / LEVEL
    for n in (3, 5)
}  # 0.703 N·m: scatter of the middle band's mean when one speed scatters by 1.0
STUDIES = (
    (Study("three a set"), 0.945, 0.95),
    (Study("four a set", "AAAABBBBAAAA"), 0.945, 0.95),
    (Study("straight drift of 1 %", drift=straight), 0.945, 0.95),
    (Study("B four times the scatter of A", sd_a=0.5, sd_b=2.0), 0.93, 0.93),
    (Study("B twice the scatter of A", sd_a=0.5, sd_b=1.0), 0.92, 0.92),
    (Study("A four times the scatter of B", sd_a=2.0, sd_b=0.5), 0.94, 0.94),
    (Study("A-B-A-B in twos, drifting", "AABBAABB", drift=straight), 0.93, 0.94),
    (Study("B-A-B, drifting", "BBBAAABBB", drift=straight), 0.945, 0.95),
    (Study("warm-up of 1 %", drift=warm_up), 0.90, 0.90),
    (Study("heat soak of 0.8 %", drift=heat_soak), 0.84, 0.84),
    (Study("heat soak of 0.8 %, little scatter", drift=heat_soak, sd_a=0.3, sd_b=0.3), 0.93, 0.93),
    (Study("two a set", "AABBAA"), 0.92, 0.94),
    (Study("one, two, one", "ABBA"), 0.88, 0.93),
)


@pytest.mark.parametrize(
    ("study", "curve", "family"),
    [
        (s, c, f) if k in (0, 3) else pytest.param(s, c, f, marks=pytest.mark.long)
        for k, (s, c, f) in enumerate(STUDIES)
    ],
    ids=[s.name for s, _, _ in STUDIES],
)
def test_intervals_hold_as_often_as_the_method_note_says(
    study: Study, curve: float, family: float, request: pytest.FixtureRequest
) -> None:
    """Shares of sessions in which the band of the whole curve, and all three bands of use, held."""
    found = spread_out(study, MANY) if request.config.getoption("--long") else quickly(study, 200)
    assert at_least(found.curve, found.sessions, curve)
    assert at_least(found.family, found.sessions, family)
    assert at_most(
        found.verdicts[compare.GAIN] + found.verdicts["stated gain"], found.sessions, 0.025 + 0.05 * (curve < 0.93)
    )


@pytest.mark.long
def test_a_true_gain_is_never_proven_more_often_at_more_noise() -> None:
    """At a true +0.8 %, as the scatter doubles and doubles again: direction first, so noise only takes certainty away."""
    shares = []
    for sd in (0.2, 0.6, 1.8):
        found = run(Study("", effect=0.008, sd_a=sd, sd_b=sd), 60, known=0.0)
        shares.append(found.share(compare.GAIN) + found.share("stated gain"))
        assert found.share(compare.NO_DIFFERENCE) < 0.5
    assert shares[0] > 0.95
    assert shares == sorted(shares, reverse=True)
    assert shares[2] < 0.3


@pytest.mark.parametrize("n", [3, pytest.param(5, marks=pytest.mark.long)])
def test_what_a_card_promises_comes_true_four_times_in_five(n: int, request: pytest.FixtureRequest) -> None:
    """The smallest provable gain of a card, simulated and weighed: stated gains in the middle band."""
    study = Study("", "A" * n + "B" * n + "A" * n, effect=PROMISED[n], sd_a=1.0, sd_b=1.0)
    found = spread_out(study, MANY) if request.config.getoption("--long") else quickly(study, 200)
    assert at_least(found.verdicts["stated gain"], found.sessions, 0.78)
    assert at_most(found.verdicts["stated gain"], found.sessions, 0.84)


@pytest.mark.long
def test_without_a_return_nothing_is_called_a_gain_or_a_loss() -> None:
    found = spread_out(Study("", "AAABBB", drift=straight), MANY)
    assert not found.verdicts[compare.GAIN]
    assert not found.verdicts[compare.LOSS]
    assert found.verdicts[compare.LOSS_OR_DRIFT]


def table(sessions: int) -> list[str]:
    """Rows of the method note."""
    lines = [
        "| session | curve held, % | three bands held, % | verdicts of the middle band, nothing true |",
        "|---|---|---|---|",
    ]
    lines += [spread_out(study, sessions).line(study.name) for study, _, _ in STUDIES]
    lines.append(spread_out(Study("", "AAABBB", drift=straight), sessions).line("no return, drifting by 1 %"))
    for n in PROMISED:
        study = Study("", "A" * n + "B" * n + "A" * n, effect=PROMISED[n], sd_a=1.0, sd_b=1.0)
        lines.append(spread_out(study, sessions).line(f"{n} a set, the gain that its card promises"))
    return lines


if __name__ == "__main__":
    print("\n".join(table(int(sys.argv[1]) if len(sys.argv) > 1 else MANY)))
