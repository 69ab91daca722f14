"""Airflow in words: what the evidence allows, and the three things it may never say."""

from __future__ import annotations

from dataclasses import replace

import pytest

from longbreath.core.basis.units import from_unit
from longbreath.core.bench import reduction
from longbreath.core.claim import airflow
from longbreath.core.claim import words as words_of

CFM = from_unit(1.0, "flow", "cfm")
DP = from_unit(28.0, "column", "inH2O")


def lift(mm: float, a: float, b: float, referred: bool = False) -> airflow.LiftGain:
    """One lift with flows [cfm]; each good to ± 1 cfm."""
    one, other = (
        reduction.reduce_repeats(
            [reduction.MeterReading(DP, direct=q * CFM, flow_resolution=3**0.5 * CFM)], DP, None, reduction.Noise()
        )
        for q in (a, b)
    )
    return airflow.LiftGain(mm / 1000, a * CFM, reduction.difference(one, other), referred)


PAIR = airflow.Pair(
    "stock", "the part", "radius plate, cylinder 2", DP, (), (lift(4, 140, 140.5), lift(8, 200, 206.3)), 4
)
GOOD = "The part flowed 5 cfm more at 8 mm of lift, on one port at 28 inH2O, radius plate."


def failed(statement: str, pair: airflow.Pair = PAIR) -> set[str]:
    return {gate.key for gate in airflow.check(statement, pair) if not gate.met}


def test_the_draft_passes_its_own_gates_and_rounds_against_the_maker() -> None:
    words = airflow.draft(PAIR)
    assert failed(words) == set()
    assert "+6.0 cfm" in words
    assert "Airflow on a bench, not power" in words


def test_a_null_result_is_said_as_one() -> None:
    null = replace(PAIR, lifts=PAIR.lifts[:1])
    assert airflow.draft(null).startswith("No difference in airflow was proven")
    assert failed(airflow.draft(null), null) == {"clear"}


@pytest.mark.parametrize(
    ("statement", "key"),
    [
        ("At 28 inH2O it is worth 12 hp.", "as_flow"),
        ("At 28 inH2O it makes more power.", "as_flow"),
        ("At 28 inH2O it adds 8 N·m.", "as_flow"),
        ("At 28 inH2O it flowed 25 cfm more.", "one_port"),
        ("At 28 inH2O it flowed 9 cfm more.", "one_port"),
        ("At 28 inH2O the whole engine gains: 6 cfm times 4.", "one_port"),
        ("At 28 inH2O it adds 24 cfm for all four cylinders.", "one_port"),
        ("At 28 inH2O it gains 6 cfm × 8.", "one_port"),
        ("It flowed 5 cfm more.", "condition"),
    ],
)
def test_what_airflow_may_not_say(statement: str, key: str) -> None:
    assert key in failed(statement)


def test_a_loss_stands_beside_the_gain_and_sizes_are_no_multiplication() -> None:
    pair = replace(PAIR, lifts=(lift(4, 140, 136), lift(8, 200, 206.3)), fixture="radius plate, 2 × 33.0 mm valves")
    words = airflow.draft(pair)
    assert words.index("+6.0 cfm") < words.index("−4.0 cfm")
    assert failed(words, pair) == set()


def test_that_it_is_not_power_may_be_said() -> None:
    assert failed(GOOD + " This is not power.") == set()


def test_different_fixtures_referred_readings_and_an_unchecked_bench_fail() -> None:
    assert failed(GOOD, replace(PAIR, differs=("mouth: clay against radius plate",))) == {"fixture"}
    assert failed(GOOD, replace(PAIR, lifts=(lift(8, 200, 206.3, True),))) == {"read"}
    assert failed(GOOD, replace(PAIR, calibration_due=True)) == {"calibrated"}
    never = airflow.check(GOOD, replace(PAIR, never_checked=True))
    assert [gate.evidence for gate in never if not gate.met] == [
        "It was never checked with a plate: the scale is only the bench's own."
    ]


def test_a_claim_of_power_may_quote_no_airflow() -> None:
    assert words_of.AIRFLOW.search("gained 2 lb-ft and 14 cfm")
    assert not words_of.AIRFLOW.search("gained 2 lb-ft")
