"""Figures of a statement: inside their interval, never better than it, and both units the same value."""

from __future__ import annotations

import re

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.claim.rounding import amount

LB_FT = units.from_unit(1.0, "torque", "lb-ft")
KINDS = st.sampled_from(["torque", "power", "flow"])


def numbers(text: str) -> list[float]:
    """The numbers of a text as its reader takes them, thousands apart or not."""
    plain = text.replace("−", "-").replace("\u202f", "")
    return [float(found) for found in re.findall(r"[-+]?\d+(?:\.\d+)?", plain)]


@given(KINDS, st.floats(-5e3, 5e3), st.floats(1e-4, 2e3))
def test_no_printed_figure_lies_outside_its_interval_or_is_better_than_it(kind: str, value: float, half: float) -> None:
    assume(abs(value) > half)  # only a proven difference is printed with its size
    found = amount(value, half, kind)
    named = units.kind_named(kind)
    us, metric = numbers(found.size())
    for number, symbol in ((us, named.us), (metric, named.metric)):
        read = (number if value > 0 else -number) * units.unit_of(kind, symbol).factor
        dust = 1e-9 * half + 1e-12 * abs(value)
        assert value - half - dust <= read <= value + dust, (number, symbol)
        assert read * value > 0  # a proven difference is never rounded away


@given(KINDS, st.floats(-5e3, 5e3), st.floats(1e-4, 2e3))
def test_both_units_are_the_same_value(kind: str, value: float, half: float) -> None:
    """What is printed in metric, carried over and rounded as the US figure is, gives the US figure again."""
    assume(abs(value) > half)
    found = amount(value, half, kind)
    named = units.kind_named(kind)
    back = found.metric * units.unit_of(kind, named.metric).factor / units.unit_of(kind, named.us).factor
    step = half / units.unit_of(kind, named.us).factor / 2.0
    assert abs(back - found.us) <= step / 2.0


@given(KINDS, st.floats(-5e3, 5e3), st.floats(1e-4, 2e3))
def test_the_printed_interval_holds_the_true_one(kind: str, value: float, half: float) -> None:
    found = amount(value, half, kind)
    named = units.kind_named(kind)
    low_us, high_us, low_metric, high_metric = numbers(found.interval())
    for low, high, symbol in ((low_us, high_us, named.us), (low_metric, high_metric, named.metric)):
        factor = units.unit_of(kind, symbol).factor
        slack = 1e-9 * half + 1e-12 * abs(value)
        assert low * factor <= value - half + slack
        assert high * factor >= value + half - slack


@pytest.mark.parametrize(
    ("value", "half", "size", "interval"),
    [
        (-3.0, 0.9, "3.0 lb-ft (4.1 N·m)", "−3.9 to −2.1 lb-ft"),
        (2.3, 0.6, "2.2 lb-ft (2.9 N·m)", "+1.7 to +2.9 lb-ft"),
        (2.0, 1.0, "2.0 lb-ft (2.7 N·m)", "+1.0 to +3.0 lb-ft"),
        (14.6, 4.0, "14 lb-ft (18.9 N·m)", "+10 to +19 lb-ft"),
        (0.31, 0.2, "0.3 lb-ft (0.40 N·m)", "+0.1 to +0.6 lb-ft"),
        (-1234.0, 90.0, "1\u202f240 lb-ft (1\u202f682 N·m)", "−1\u202f324 to −1\u202f144 lb-ft"),
    ],
)
def test_at_the_edges_of_rounding(value: float, half: float, size: str, interval: str) -> None:
    found = amount(value * LB_FT, half * LB_FT, "torque")
    assert found.size().replace("\u00a0", " ") == size
    assert found.interval().replace("\u00a0", " ").startswith(interval)


def test_the_viewer_who_reads_metric_reads_it_first() -> None:
    found = amount(2.3 * LB_FT, 0.6 * LB_FT, "torque")
    assert found.size(True).replace("\u00a0", " ") == "2.9 N·m (2.2 lb-ft)"
    assert found.interval(True).index("N·m") < found.interval(True).index("lb-ft")


@pytest.mark.parametrize(("value", "half"), [(1.0, 0.0), (1.0, -1.0), (float("nan"), 1.0), (1.0, float("inf"))])
def test_a_figure_without_an_interval_is_not_stated(value: float, half: float) -> None:
    with pytest.raises(EvidenceError, match="without an interval"):
        amount(value, half, "torque")
