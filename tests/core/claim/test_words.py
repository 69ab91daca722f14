"""What a written claim says, however it is spelt."""

from __future__ import annotations

import pytest

from longbreath.core.claim.words import IN_WORDS, number, quantities


@pytest.mark.parametrize(
    ("text", "kind", "symbol", "value"),
    [
        ("90 hp", "power", "hp", 90.0),
        ("90 bhp at the wheel", "power", "hp", 90.0),
        ("90whp", "power", "hp", 90.0),
        ("90 Horsepower", "power", "hp", 90.0),
        ("67 kilowatts", "power", "kW", 67.0),
        ("1,200 hp", "power", "hp", 1200.0),
        ("1.200,5 kW", "power", "kW", 1200.5),
        ("2,5 kW", "power", "kW", 2.5),
        ("−1.5 lb-ft", "torque", "lb-ft", -1.5),
        ("20 ft-lbs", "torque", "lb-ft", 20.0),
        ("20 foot-pounds", "torque", "lb-ft", 20.0),
        ("30 Nm", "torque", "N·m", 30.0),
        ("30\u202fN·m", "torque", "N·m", 30.0),
        ("30 newton metres", "torque", "N·m", 30.0),
        ("95 PS", "power", "PS", 95.0),
    ],
)
def test_figures_of_torque_and_power_are_found_however_they_are_spelt(
    text: str, kind: str, symbol: str, value: float
) -> None:
    ((_, its_kind, its_symbol, its_value),) = quantities(f"It gained {text}, against stock.")
    assert (its_kind, its_symbol, its_value) == (kind, symbol, value)


@pytest.mark.parametrize(
    "text",
    ["ninety horsepower", "Twenty-five hp", "a hundred and twenty foot-pounds", "twelve more kilowatts", "forty Nm"],
)
def test_a_figure_in_words_is_found(text: str) -> None:
    assert IN_WORDS.search(f"It gained {text}, against stock.")


@pytest.mark.parametrize("text", ["between 3000 and 5200 rpm", "a 95 % interval", "on one vehicle in one session"])
def test_what_is_no_figure_of_torque_or_power(text: str) -> None:
    assert quantities(text) == []
    assert not IN_WORDS.search(text)


def test_a_comma_that_may_part_thousands_is_read_as_the_larger() -> None:
    assert [number(x) for x in ("1,200", "1.200", "12,5", "0.5", "1,234,567", "−3")] == [
        1200,
        1200,
        12.5,
        0.5,
        1234567,
        -3,
    ]
