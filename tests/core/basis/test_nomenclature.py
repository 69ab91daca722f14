"""The nomenclature: every symbol has a word and a known kind, and no line of a working begins with an equals sign."""

from __future__ import annotations

from longbreath.core.basis import units
from longbreath.core.basis.nomenclature import terms
from longbreath.core.basis.register import all_reckonings


def test_every_symbol_has_a_word_a_kind_and_a_place() -> None:
    found = terms()
    assert len(found) > 150
    names = {entry.name for entry in all_reckonings()}
    for term in found:
        assert term.symbol.strip("= ")
        assert term.word
        assert term.where
        assert {name for name, _ in term.where} <= names
        assert term.kind == "" or units.kind_named(term.kind)


def test_the_bore_and_its_unit_in_either_system() -> None:
    bore = next(term for term in terms() if (term.symbol, term.word) == ("B", "bore"))
    assert (bore.unit("us"), bore.unit("metric")) == ("in", "mm")
    assert "Air demand of an engine" in dict(bore.where).values()


def test_no_step_of_a_working_is_an_equals_sign() -> None:
    for entry in all_reckonings():
        for figure in entry.answer({field.name: field.example for field in entry.fields}).figures:
            assert all(step.symbol != "=" for step in figure.working.steps), entry.name
