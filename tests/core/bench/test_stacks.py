"""Pieces on a head."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.bench import stacks


@given(st.floats(0.01, 0.5), st.floats(0.05, 0.95))
def test_taking_a_piece_off_and_putting_it_on_again_is_the_identity(rest: float, share: float) -> None:
    stack = rest * share
    assert stacks.series([rest, stacks.alone(stack, rest)]) == pytest.approx(stack, rel=1e-6)


def test_the_piece_with_the_largest_share_of_the_drop_limits() -> None:
    states = (("head", 300.0), ("head + manifold", 200.0), ("head + manifold + throttle", 199.0))
    found = stacks.analyse([stacks.StackState(name, flow) for name, flow in states])
    assert found.limit == "manifold"
    assert [step.piece for step in found.steps] == ["manifold", "throttle"]
    shares = [found.first_share.value, *(step.share.value for step in found.steps if step.share)]
    assert sum(shares) == pytest.approx(1.0)
    level = stacks.analyse([stacks.StackState("head", 300.0), stacks.StackState("head + manifold", 301.0)])
    assert level.steps[0].alone is None
    assert level.limit == "head"
