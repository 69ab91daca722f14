"""Airflow: the facts of two traces, what must be said of them, and the gates."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from longbreath.core.basis.units import from_unit
from longbreath.core.bench import reduction
from longbreath.core.claim.gates.table import bench_gates
from longbreath.core.claim.grammar import SheetLine, compose, sentences, usual
from longbreath.core.claim.kinds import airflow

CFM = from_unit(1.0, "flow", "cfm")
DP = from_unit(28.0, "column", "inH2O")


def lift(mm: float | None, a: float, b: float, referred: bool = False) -> airflow.LiftGain:
    """One lift with flows [cfm]; each good to ± 1 cfm."""
    one, other = (
        reduction.reduce_repeats(
            [reduction.MeterReading(DP, direct=q * CFM, flow_resolution=3**0.5 * CFM)], DP, None, reduction.Noise()
        )
        for q in (a, b)
    )
    return airflow.LiftGain(mm / 1000 if mm else None, a * CFM, reduction.difference(one, other), referred)


PAIR = airflow.Pair("stock", "new part", "radius plate, cylinder 2", DP, (), (lift(4, 140, 140.5), lift(8, 200, 206.3)))


def said(pair: airflow.Pair, *lines: SheetLine) -> str:
    facts = airflow.facts_of(pair)
    return " ".join(sentences(pair.setting, compose(facts, lines or usual(facts).lines)))


def failed(pair: airflow.Pair) -> set[str]:
    return {gate.key for gate in bench_gates(pair) if not gate.met}


def test_the_largest_gain_is_said_as_flow_on_one_port_and_rounded_against_the_maker() -> None:
    text = said(PAIR)
    assert text.startswith(
        "On one port, at 28\u00a0inH₂O (6.974\u00a0kPa), radius plate, cylinder 2, the new part flowed 6"
    )
    assert "cfm" in text
    assert "more at 8\u00a0mm of lift" in text
    assert text.endswith("against the stock. Airflow on a bench, not power.")
    assert failed(PAIR) == set()


def test_a_null_result_is_said_as_one() -> None:
    null = replace(PAIR, lifts=PAIR.lifts[:1])
    assert "showed no proven difference in airflow at 4\u00a0mm of lift" in said(null)
    assert failed(null) == set()


def test_every_proven_loss_stands_beside_the_gain() -> None:
    pair = replace(PAIR, lifts=(lift(2, 70, 66), lift(4, 140, 136), lift(8, 200, 206.3)))
    gain = airflow.facts_of(pair)[0]
    text = said(pair, SheetLine(gain.key, 1, True))
    assert text.count("less at") == 2
    assert "gained" in text


def test_a_fixed_part_has_no_lift() -> None:
    pair = replace(PAIR, lifts=(lift(None, 200, 206.3),))
    assert "of lift" not in said(pair)


def test_different_fixtures_referred_readings_and_an_unchecked_bench_fail() -> None:
    assert failed(replace(PAIR, differs=("mouth: clay against radius plate",))) == {"fixture"}
    assert failed(replace(PAIR, lifts=(lift(8, 200, 206.3, True),))) == {"read"}
    assert failed(replace(PAIR, calibration_due=True)) == {"calibrated"}
    assert failed(replace(PAIR, lifts=())) == {"measured"}
    never = bench_gates(replace(PAIR, never_checked=True))
    assert [gate.evidence for gate in never if not gate.met] == [
        "It was never checked with a plate: the scale is only the bench’s own."
    ]


def test_the_lift_that_is_picked_out_after_looking_keeps_its_promise() -> None:
    """Simulated pairs of ten lifts: the interval of the one that gained most holds its true gain in 95 of 100."""
    rng, held, true = np.random.default_rng(3), 0, 2.0
    fact = airflow.facts_of(PAIR)[0]
    spread = fact.half_width / airflow.shared(len(PAIR.lifts)) / CFM / 2.0  # one standard deviation of a difference
    for _ in range(300):
        found = tuple(lift(1.0 + n, 100.0, 100.0 + true + spread * rng.standard_normal()) for n in range(10))
        best = airflow.facts_of(replace(PAIR, lifts=found))[0]
        held += abs(best.value - true * CFM) <= best.half_width
    assert held / 300 >= 0.93


@pytest.mark.parametrize(("lifts", "factor"), [(1, 1.0), (2, 1.1436), (10, 1.4322)])
def test_the_lifts_share_the_error(lifts: int, factor: float) -> None:
    """Quantiles of the normal distribution: 1.960, 2.241, 2.807 (any table of them)."""
    assert airflow.shared(lifts) == pytest.approx(factor, abs=2e-4)
