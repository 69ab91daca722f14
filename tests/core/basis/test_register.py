"""The register: every entry answers its own example, carries a working, and refuses nonsense beside the field."""

from __future__ import annotations

import json
import random
from typing import Annotated

import pytest

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.quantities import quantity
from longbreath.core.basis.register import Reckoned, Reckoning, all_reckonings, answered, reckoning, reckoning_named

ALL = all_reckonings()


@pytest.mark.parametrize("entry", ALL, ids=lambda entry: entry.name)
def test_every_entry_answers_its_example_with_a_working(entry: Reckoning) -> None:
    answer = entry.answer({field.name: field.example for field in entry.fields})
    assert answer.errors == {}
    for figure in answer.figures:
        assert figure.value > 0
        assert figure.working.steps
        assert figure.working.source
        assert any(step.value == pytest.approx(figure.value) for step in figure.working.steps), figure.name


@pytest.mark.parametrize("entry", ALL, ids=lambda entry: entry.name)
def test_every_entry_refuses_nonsense_beside_each_field(entry: Reckoning) -> None:
    answer = entry.answer({field.name: "a few furlongs" for field in entry.fields})
    assert set(answer.errors) == {field.name for field in entry.fields}
    assert answer.figures == ()


def test_an_unknown_input_names_those_there_are() -> None:
    answer = reckoning_named("tube_inside").answer({"bore": "3 in"})
    assert "Its inputs are: outside_diameter, wall" in answer.errors["bore"]


def test_bounds_are_told_in_the_viewers_unit() -> None:
    answer = reckoning_named("bench_flow").answer(
        {"percent": "120 %", "full_scale": "300", "pressure": "28", "test_pressure": "28"}, "us"
    )
    assert "cannot be more than 100" in answer.errors["percent"]


def test_a_name_is_registered_once_and_says_what_it_asks() -> None:
    with pytest.raises(ValueError, match="registered twice"):
        reckoning("Again", "x", "y")(ALL[0].run)

    def wordless(a: Annotated[float, quantity("length", "A")]) -> Reckoned:
        return answered()

    with pytest.raises(ValueError, match="asks no question"):
        reckoning("No words", "x", "y")(wordless)

    def bare(a: float) -> Reckoned:
        """What of a bare number?"""
        return answered()

    with pytest.raises(ValueError, match="names no field"):
        reckoning("Bare", "x", "y")(bare)
    with pytest.raises(InputError, match="There is no reckoning"):
        reckoning_named("nothing")


def test_a_whole_number_is_whole() -> None:
    found = reckoning_named("power_potential")
    texts = {"flow": "250 cfm", "test_pressure": "28 inH2O"}
    assert "must be a whole number" in found.answer({**texts, "cylinders": "4.5"}).errors["cylinders"]
    assert "cannot be more than 24" in found.answer({**texts, "cylinders": "25"}).errors["cylinders"]
    assert found.answer({**texts, "cylinders": "4"}).errors == {}


JUDGED = {
    "closing_delay": ({"closing": "80 °", "inlet_length": "70 mm"}, "It closes late. Later than usual for this inlet"),
    "sensor_headroom": ({"boost": "1.5 bar"}, "at its ceiling before that boost"),
    "injector_duty": ({"power": "400 kW"}, "They are too small"),
    "controller_headroom": ({"duty": "93 %"}, "boost will fall at speed"),
    "faces": ({"width_2": "48 mm", "wall": "4 mm"}, "Fill. Cutting 2.9"),
    "porting_hours": ({"now": "224.9 cfm", "spent": "1 h"}, "Go on"),
}


@pytest.mark.parametrize("name", JUDGED)
def test_where_a_page_judges_the_reckoning_judges_too(name: str) -> None:
    entry = reckoning_named(name)
    change, words = JUDGED[name]
    texts = {**{field.name: field.example for field in entry.fields}, **change}
    answer = entry.answer(texts)
    assert answer.errors == {}
    assert answer.judgement is not None
    assert words in answer.judgement.words("metric")
    assert answer.to_dict(name, "us")["judgement"] == answer.judgement.words("us")


def test_every_figure_has_a_working_of_its_own() -> None:
    """The value of each figure is the outcome of one of the steps it shows."""
    for entry in ALL:
        figures = entry.answer({field.name: field.example for field in entry.fields}).figures
        for figure in figures:
            outcomes = [step.value for step in figure.working.steps]
            told = any(value == pytest.approx(figure.value, rel=1e-9) for value in outcomes)
            assert told, (entry.name, figure.name, outcomes)


EXTREMES = (
    "0",
    "-1",
    "1e308",
    "-1e308",
    "1e-308",
    "5e-324",
    "1e300",
    "1e20",
    "1",
    "1e6",
    "-100 kPa",
    "0 Pa",
    "9" * 400,
)


@pytest.mark.parametrize("name", [found.name for found in all_reckonings()])
def test_values_at_any_bound_are_reckoned_with_or_refused_in_words(name: str) -> None:
    """No complex number, no infinity, nothing that JSON cannot hold, and no exception, whatever is typed."""
    found, chance = reckoning_named(name), random.Random(name)
    for turn in range(120):
        share = 0.3 if turn % 2 else 0.8
        texts = {
            item.name: chance.choice(item.choices)[0]
            if item.choices
            else chance.choice(EXTREMES)
            if chance.random() < share
            else item.example
            for item in found.fields
        }
        answer = found.answer(texts)
        assert all(words.strip() for words in answer.errors.values())
        for figure in answer.figures:
            assert figure.is_real
            assert "nan" not in figure.text("us").lower()
        json.dumps(answer.to_dict(name, "metric"), allow_nan=False)


def test_values_that_do_not_belong_together_are_answered_beside_a_field() -> None:
    answer = reckoning_named("pitot_velocity").answer(
        {"velocity_pressure": "1e308", "pressure": "0", "temperature": "-5 K"}
    )
    assert set(answer.errors) == {"velocity_pressure", "pressure", "temperature"}


@pytest.mark.parametrize("text", ["1e308 mm", "1e20", "9" * 60 + " m"])
def test_no_quantity_is_as_large_as_that(text: str) -> None:
    with pytest.raises(InputError, match="too large to be"):
        units.parse(text, "length")


def test_nor_as_small() -> None:
    with pytest.raises(InputError, match="too small to be"):
        units.parse("1e-30 mm", "length")
    assert units.parse("0 mm", "length").value == 0.0
