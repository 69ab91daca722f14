"""When a reading is settled, what speaks against it, and what cannot be taken at all."""

from __future__ import annotations

import pytest

from longbreath.core.bench import settle

DP = 6974.5


def moments(
    flow: float = 0.07,
    pressure: float = DP,
    swing: float = 0.0,
    full: float | None = 0.1,
    count: int = 15,
    label: str = "4",
    every: float = 0.1,
) -> list[settle.Moment]:
    """`count` moments up to now (10 s), each second one off by `swing` as a share."""
    return [
        settle.Moment(
            10.0 - every * (count - 1 - i),
            pressure * (1 + swing * (-1) ** i),
            flow * (1 + swing * (-1) ** i),
            label,
            full,
        )
        for i in range(count)
    ]


def keys(found: settle.Settled) -> list[str]:
    return [problem.key for problem in found.problems]


def test_a_quiet_window_at_the_test_pressure_is_good() -> None:
    found = settle.judge_window(moments(swing=0.001), 10.0, DP)
    assert found.good
    assert keys(found) == []
    assert found.flow == pytest.approx(0.07, rel=1e-3)
    assert settle.standard_error(found) == pytest.approx(found.spread / 15**0.5)


@pytest.mark.parametrize(
    ("given", "key", "words"),
    [
        ({"swing": 0.01}, settle.UNSETTLED, "moving"),
        ({"count": 4}, settle.UNSETTLED, "still filling"),
        ({"pressure": 0.9 * DP}, settle.OFF_PRESSURE, "dropped to 25.20 inH₂O"),
        ({"pressure": 1.05 * DP}, settle.OFF_PRESSURE, "Turn the motor down"),
        ({"flow": 0.097}, settle.NEAR_END, "near its end"),
        ({"flow": 0.11}, settle.OFF_SCALE, "larger range"),
        ({"flow": 0.010}, settle.LOW, "reads finer"),
        ({"flow": 0.0001}, settle.NO_FLOW, "blocked or loose line"),
        ({"pressure": 50.0}, settle.NO_AIR, "Start the motor"),
    ],
)
def test_each_trouble_is_named_with_what_to_do(given: dict[str, float], key: str, words: str) -> None:
    found = settle.judge_window(moments(**given), 10.0, DP)  # type: ignore[arg-type]
    assert key in keys(found)
    assert words in " ".join(f"{p.finding} {p.advice}" for p in found.problems).replace("\u00a0", " ")
    assert found.good is (key == settle.LOW)


def test_what_cannot_be_taken_comes_first() -> None:
    found = settle.judge_window(moments(flow=0.11, pressure=0.8 * DP, swing=0.02), 10.0, DP)
    assert found.problems[0].blocks
    assert not found.problems[-1].blocks


def test_a_range_change_unsettles_the_window_and_old_moments_fall_out() -> None:
    changed = [*moments(label="3")[:8], *moments(label="4")[8:]]
    assert "range was just changed" in settle.judge_window(changed, 10.0, DP).problems[0].finding
    assert keys(settle.judge_window(moments(), 14.0, DP)) == [settle.NO_AIR]
    assert settle.judge_window([], 1.0, DP).problems[0].blocks


def test_a_direct_meter_has_no_range_to_run_out_of() -> None:
    assert settle.judge_window(moments(flow=5.0, full=None), 10.0, DP).good
