"""Reading what people write, and showing it again."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.basis import units, written
from longbreath.core.basis.errors import InputError


@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [
        ("2-1/4 in", "length", 0.05715),
        ('2 1/4"', "length", 0.05715),
        ("2¼ in", "length", 0.05715),
        ("57.15mm", "length", 0.05715),
        ("57,15 mm", "length", 0.05715),
        ("500 thou", "length", 0.0127),
        ("28 inH2O", "column", 6974.48948),
        ("28 in. H₂O", "column", 6974.48948),
        ("300 lb-ft", "torque", 406.7453845),
        ("300 ft-lb", "torque", 406.7453845),
        ("18C", "temperature", 291.15),
        ("-40 F", "temperature", 233.15),
        ("7 100 rpm", "speed", 743.5102613),
        ("7,100 rpm", "speed", 743.5102613),
        ("100 hp", "power", 74569.987158),
        ("81.5 %", "percent", 0.815),
        ("499 cc", "volume", 499e-6),
        ("1 mile", "length", None),
    ],
)
def test_what_people_write(text: str, kind: str, si: float | None) -> None:
    if si is None:
        with pytest.raises(InputError, match=r"not a unit of a length\. Use one of: mm, cm, m, in, thou, ft"):
            units.parse(text, kind)
    else:
        assert units.parse(text, kind).value == pytest.approx(si, rel=1e-9)


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("abc", "does not begin with a number"),
        ("1/0 in", "divides by nought"),
        ("1,234 mm", "can mean 1234 or 1.234"),
        ("-500 C", "below absolute zero"),
        ("1e400 mm", "too large"),
    ],
)
def test_what_cannot_be_read_is_answered_in_words(text: str, message: str) -> None:
    with pytest.raises(InputError, match=message):
        units.parse(text, "temperature" if "C" in text else "length")


def test_a_bare_number_has_the_unit_of_the_system() -> None:
    assert units.parse("2", "length", "us").value == pytest.approx(0.0508)
    assert units.parse("2", "length", "metric").value == pytest.approx(0.002)
    assert units.parse("2", "length", "us").words == "2\u00a0in"


EVERY_UNIT = [(kind.name, unit) for kind in units.KINDS.values() for unit in units.UNITS[kind.dimension]]


@given(st.sampled_from(EVERY_UNIT), st.floats(0.001, 99999, allow_nan=False))
def test_every_unit_round_trips(pair: tuple[str, units.Unit], number: float) -> None:
    kind, unit = pair
    read = units.parse(f"{number!r} {unit.symbol}", kind)
    assert units.to_unit(read.value, kind, unit.symbol) == pytest.approx(number, rel=1e-9)


@given(st.sampled_from(list(units.KINDS)), st.sampled_from(units.SYSTEMS), st.floats(0.01, 1e5))
def test_typed_text_loses_nothing_that_matters(kind: str, system: str, number: float) -> None:
    si = units.from_unit(number, kind, units.KINDS[kind].symbol(system))
    again = units.parse(written.typed(si, kind, system), kind, system).value
    assert again == pytest.approx(si, rel=1e-6)


@given(st.text(max_size=40), st.sampled_from(list(units.KINDS)))
def test_any_text_is_read_or_refused_in_words(text: str, kind: str) -> None:
    try:
        assert math.isfinite(units.parse(text, kind).value)
    except InputError as error:
        message = error.message
    else:
        message = "."
    assert message.endswith(".")


@pytest.mark.parametrize(
    ("value", "uncertainty", "text"),
    [
        (293.4, 0.4, "293.4"),
        (293.44, 0.18, "293.44"),
        (293.4, 12.0, "293"),
        (-3.14, 0.2, "−3.1"),
        (12345.6, 30.0, "12\u202f346"),
    ],
)
def test_digits_follow_the_uncertainty(value: float, uncertainty: float, text: str) -> None:
    assert units.tidy_number(value, units.decimals_for(uncertainty)) == text


def test_a_difference_of_temperature_has_no_offset() -> None:
    assert units.show_number(10.0, "temperature", "us", difference=True) == "18"


WRITTEN = [
    ("280 cc/min", "flow", 280e-6 / 60),
    ("280 cm³/min", "flow", 280e-6 / 60),
    ("4.3333 mm²·s", "time_area", 4.3333e-6),
    ("4.3333 mm2s", "time_area", 4.3333e-6),
    ("0.0108 s/m", "specific_time_area", 0.0108),
    ("0.0108 mm2s/cm3", "specific_time_area", 0.0108),
    ("30 W/m2K", "heat_transfer", 30.0),
    ("165 min", "minutes", 9900.0),
    ("2-3/4 h", "minutes", 9900.0),
]


@pytest.mark.parametrize(("text", "kind", "value"), WRITTEN)
def test_what_people_write_for_the_new_kinds(text: str, kind: str, value: float) -> None:
    assert units.parse(text, kind).value == pytest.approx(value, rel=1e-6)


def test_a_bare_number_of_minutes_is_minutes() -> None:
    assert units.parse("165", "minutes").value == pytest.approx(9900.0)
    assert units.show(9900.0, "minutes", "metric", 300.0).replace("\u00a0", " ") == "165 min"


def test_heat_transfer_agrees_with_the_handbook_factor() -> None:
    """Handbook factor, from memory: 1 BTU/(h·ft²·°F) = 5.678 W/(m²·K)."""
    assert units.parse("1 BTU/h·ft²·°F", "heat_transfer").value == pytest.approx(5.678, rel=1e-3)


@pytest.mark.parametrize(
    "text", ["9" * 5000 + "/2", "1/" + "9" * 5000, "9" * 5000 + " 1/2 in", "1 " * 50_000, "½" * 200]
)
def test_a_text_that_goes_on_and_on_is_no_number(text: str) -> None:
    with pytest.raises(InputError, match="too long to be a number"):
        units.parse(text, "length")
