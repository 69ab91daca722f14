"""The register: every entry answers its own example, carries a working, and refuses nonsense beside the field."""

from __future__ import annotations

import pytest

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import Reckoning, all_reckonings, reckoning_named, register

ALL = all_reckonings()


@pytest.mark.parametrize("entry", ALL, ids=lambda entry: entry.name)
def test_every_entry_answers_its_example_with_a_working(entry: Reckoning) -> None:
    answer = entry.answer({field.name: field.example for field in entry.fields})
    assert answer.errors == {}
    for figure in answer.figures:
        assert figure.value > 0
        assert figure.working.steps
        assert figure.working.source
        assert figure.working.steps[-1].value or figure.working.steps


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


def test_a_name_is_registered_once() -> None:
    with pytest.raises(ValueError, match="registered twice"):
        register(ALL[0])
    with pytest.raises(InputError, match="There is no reckoning"):
        reckoning_named("nothing")
