"""What a plan can prove. The promise is simulated in tests/outside/test_audit_comparison.py."""

from __future__ import annotations

import pytest

from longbreath.core.basis.errors import InputError
from longbreath.core.compare import planning
from longbreath.core.compare.scatter import Scatter


def order(pulls: int) -> str:
    """A-B-A with that many pulls a set."""
    return "A" * pulls + "B" * pulls + "A" * pulls


def of(repeatability: float, pulls: int = 3, level: float = 0.0) -> float:
    return planning.provable(Scatter(repeatability, origin="12 repeats"), order(pulls), level, "usual").value


def test_provable_gain_scales_with_the_noise_and_explains_itself() -> None:
    assert of(2.0) == pytest.approx(2 * of(1.0))
    found = planning.provable(Scatter(1.0, origin="12 repeats"), "AAABBBAAA", 180.0, "usual")
    assert [step.symbol for step in found.working.steps] == ["m", "se", "ν", "δ"]
    assert found.working.rows == ("12 repeats",)


def test_more_pulls_prove_smaller_gains_but_none_under_the_margin() -> None:
    sizes = [of(1.0, n) for n in range(2, 9)]
    assert sizes == sorted(sizes, reverse=True)
    assert of(0.01, 8, 180.0) > 1.8
    assert of(1.0, 8, 180.0) > of(1.0, 8)


def test_bands_that_are_read_together_cost_something() -> None:
    alone, shared = (planning.chance_of_gain(3.0, 0.0, 1.0, 6, family) for family in (1, 3))
    assert shared < alone


@pytest.mark.parametrize(("repeatability", "pulls"), [(0.0, 3), (-1.0, 3), (1.0, 1)])
def test_no_plan_without_noise_or_repeats(repeatability: float, pulls: int) -> None:
    with pytest.raises(InputError):
        of(repeatability, pulls)


def test_the_usual_torque_of_a_displacement() -> None:
    """10 bar of a two-litre four-stroke: p·V/4π."""
    assert planning.usual_torque(2e-3, "four-stroke") == pytest.approx(159.15, rel=1e-3)
    # two chambers of 654 cm³ make some 190 N·m at 9 bar: 9e5 × 1.308e-3 / 2π (first principles: a rotor fires once a turn)
    assert planning.usual_torque(1.308e-3, "rotary") == pytest.approx(187.4, rel=1e-3)
    assert planning.usual_torque(2e-3, "two-stroke") > planning.usual_torque(2e-3, "four-stroke")


@pytest.mark.parametrize(
    ("order", "fitting", "counts"),
    [("AAABBBAAA", None, False), ("AAABBBAAABBBAAA", None, True), ("AAABBBAAA", 0.4, True), ("ABABABA", None, True)],
)
def test_a_claim_needs_sets_in_its_interval(order: str, fitting: float | None, counts: bool) -> None:
    """Two more sets, or a dyno that says how its sets scatter; where each pull is a set of its own its residuals hold both."""
    assert planning.counts_sets(Scatter(1.0, fitting=fitting, fitting_df=8.0), order) is counts
