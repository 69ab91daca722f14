"""The gates of a claim from a dyno: each fails by itself, and none can only be met."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from longbreath.core.build.sheet import Differing
from longbreath.core.claim.gates import Grounds, gates, may_publish
from longbreath.core.dyno import bands, compare
from longbreath.core.dyno.compare import PullCurve
from tests.core.claim.test_facts import weighed
from tests.core.dyno.flat import BANDS, GRID, runs

FUEL = Differing("fuel", "Fuel and batch", "old", "new", "the tank ran dry")
GROUNDS = Grounds(
    weighing=weighed(),
    sessions=("session of 14 May",),
    sides=("Heron, mark 41", "heron,  mark 41"),
    differing=(),
    outside_standard=(),
    boosted=False,
    said=3,
    drafted_on="k",
    evidence="k",
    records=(("the product’s name", "Petrel 66 mm throttle body"), ("the gear", "4th gear")),
    approval="closed_course",
    approval_note="",
)


def failed(**change: Any) -> list[str]:
    return [gate.key for gate in gates(replace(GROUNDS, **change)) if not gate.met]


def test_sound_grounds_pass_every_gate() -> None:
    assert failed() == []
    assert may_publish(gates(GROUNDS))
    assert not may_publish(gates(replace(GROUNDS, said=0)))


@pytest.mark.parametrize(
    ("change", "gate"),
    [
        ({"sides": ("Heron", "the other Heron")}, "vehicle"),
        ({"sides": ("Heron", "")}, "vehicle"),
        ({"sessions": ("one", "two")}, "session"),
        ({"differing": (FUEL, replace(FUEL, reason=""))}, "explained"),
        ({"said": 0}, "found"),
        ({"outside_standard": ("The air temperature 41 °C is outside 15 to 35 °C.",)}, "air"),
        ({"boosted": True}, "boost"),
        ({"drafted_on": "an earlier state"}, "current"),
        ({"records": (("the gear", "4th, 90 hp more"),)}, "records"),
        ({"approval": "unknown"}, "approval"),
        ({"approval": "approved", "approval_note": " "}, "approval"),
        ({"weighing": weighed(order="AABBAA")}, "repeats"),
        ({"weighing": weighed(order="AAABBB")}, "return"),
    ],
)
def test_each_gate_fails_by_itself(change: dict[str, Any], gate: str) -> None:
    assert failed(**change) == [gate]


def test_a_boosted_engine_that_gained_nothing_goes_out() -> None:
    assert failed(boosted=True, weighing=weighed(0.0, noise=0.1)) == []


def test_without_a_sheet_neither_what_differed_nor_the_vehicle_is_known() -> None:
    assert failed(sides=("Heron", None)) == ["sheets", "vehicle"]


def test_a_difference_with_its_reason_makes_a_package() -> None:
    (gate,) = [g for g in gates(replace(GROUNDS, differing=(FUEL,))) if g.key == "explained"]
    assert gate.met
    assert "that of a package" in gate.evidence


def soaked(line: float, curve: float) -> Any:
    """A weighing whose torque drifts straight by `line` and bends by `curve` over the session [N m]."""
    place = np.linspace(-1.0, 1.0, 9)
    made = [
        PullCurve(r.label, r.order, r.torque + line * x + curve * x * x)
        for r, x in zip(runs("AAABBBAAA", 4.0, noise=0.2, seed=2), place, strict=True)
    ]
    return bands.weigh(compare.compare_pulls(made, GRID), BANDS)


def test_the_gate_measures_the_harm_of_drift_not_its_size() -> None:
    """A straight drift of 4 N·m is taken out; a bend of 3 N·m that comes and goes with B is not let through."""
    assert "return" not in failed(weighing=soaked(4.0, 0.0))
    assert failed(weighing=soaked(0.0, 3.0)) == ["return"]
    (gate,) = [g for g in gates(replace(GROUNDS, weighing=soaked(4.0, 0.0))) if g.key == "return"]
    assert "could not have been seen" in gate.evidence
