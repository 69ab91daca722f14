"""Conservative rounding, drafted words, gates."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from longbreath.core.basis.constants import RPM
from longbreath.core.claim import torque
from longbreath.core.claim.facts import Facts, may_publish
from longbreath.core.claim.rounding import conservative
from longbreath.core.dyno import bands, compare
from tests.core.dyno.flat import BANDS, GRID, runs

SHAPE = 6 * np.exp(-(((GRID / RPM - 4000) / 900) ** 2)) - 4 / (1 + np.exp(-(GRID / RPM - 6200) / 150))


def facts(order: str = "AAABBBAAA", effect: np.ndarray | float = SHAPE, drift: float = -0.05) -> Facts:
    found = bands.weigh(compare.compare_pulls(runs(order, effect, drift, 0.3), GRID), BANDS)
    statement = torque.draft_statement(found, "Part rev C", "Heron 2.0", "wheel", "SAE J1349")
    return Facts(
        found,
        ("Heron 2.0",),
        ("one",),
        ("SAE J1349",),
        "wheel",
        0.9,
        "closed_course",
        "",
        statement,
        torque.draft_trade_off(found, "wheel"),
    )


def failed(given: Facts) -> list[str]:
    return [gate.key for gate in torque.gates(given) if not gate.met]


@pytest.mark.parametrize(("value", "rounded"), [(2.9, 2.0), (0.4, 0.0), (-1.1, -2.0), (-2.0, -2.0), (3.0, 3.0)])
def test_gains_round_toward_nought_and_losses_away(value: float, rounded: float) -> None:
    assert conservative(value, 1.0) == rounded


def test_the_draft_passes_every_gate() -> None:
    given = facts()
    assert failed(given) == []
    assert may_publish(torque.gates(given))
    assert "gained" in given.statement
    assert "wheel" in given.statement
    assert "lost" in given.trade_off


@pytest.mark.parametrize(
    ("change", "gate"),
    [
        ({"vehicles": ("Heron 2.0", "Heron 2.0T")}, "vehicle"),
        ({"sessions": ("one", "two")}, "session"),
        ({"standards": ("SAE J1349", "DIN 70020")}, "standard"),
        ({"trade_off": "It is louder."}, "trade_off"),
        ({"statement": "It makes more torque."}, "stated_at"),
        ({"approval": "unknown"}, "approval"),
        ({"approval": "approved", "approval_note": " "}, "approval"),
        ({"noise_sd": 0.05}, "return"),
        ({"statement": "At the wheel it gained 20 lb-ft."}, "within"),
        ({"statement": "At the wheel it gained 2,5 lb-ft and 40 kW."}, "within"),
        ({"drafted_on": "an earlier state"}, "current"),
    ],
)
def test_each_gate_fails_by_itself(change: dict[str, object], gate: str) -> None:
    assert failed(replace(facts(), **change)) == [gate]  # type: ignore[arg-type]


def test_two_pulls_are_not_enough() -> None:
    assert "repeats" in failed(facts("AABBAA"))


def test_no_return_to_a_fails_its_gate() -> None:
    assert "return" in failed(facts("AAABBB"))


def test_a_null_result_is_drafted_as_one_and_is_no_gain() -> None:
    given = facts(effect=0.0)
    assert "no meaningful difference" in given.statement
    assert "clear" in failed(given)
