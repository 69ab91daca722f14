"""Build sheets: may two builds be compared?"""

from __future__ import annotations

import pytest

from longbreath.core.build import sheet

BASE = {"part": "stock", "cam": "stock", "fuel": "98", "tune": "7", "pulls_since_build": "3"}


BUILDS = [
    ({"part": "Petrel"}, {}, "comparable"),
    ({"fuel": "98, new"}, {}, "comparable with corrections"),
    ({"cam": "hot"}, {}, "not comparable"),
    ({"pulls_since_build": "60"}, {}, "comparable"),
    ({"cam": ""}, {}, "comparable with corrections"),
    ({"cam": "  STOCK "}, {}, "comparable"),
    ({"part": "grind 4"}, {"grind 4": "stock"}, "comparable"),
    ({"cam": "grind 4"}, {"grind 4": "stock"}, "not comparable"),
    ({"fuel": "new"}, {"98": "stock", "new": "stock"}, "comparable with corrections"),
]


@pytest.mark.parametrize(("change", "aliases", "judgement"), BUILDS)
def test_may_two_builds_be_compared(change: dict[str, str], aliases: dict[str, str], judgement: str) -> None:
    found = sheet.compare_sheets(BASE, {**BASE, **change}, aliases)
    assert found.judgement == judgement
    assert all(d.item.effect in (sheet.BREAKS, sheet.CORRECT) for d in found.beside_the_part)


def test_aliases_are_read_from_the_sheets() -> None:
    assert sheet.as_alias_map({"Petrel rev A": "TB66,  66 mm  Prototype"}) == {
        "tb66": "petrel rev a",
        "66 mm prototype": "petrel rev a",
    }


def differing(b: dict[str, str], card: str = "nothing") -> list[tuple[str, str, str]]:
    other = {**BASE, **b}
    found = sheet.differing(BASE, other, sheet.compare_sheets(BASE, other), card)
    return [(line, one, two) for line, _, one, two in found]


@pytest.mark.parametrize("card", ["nothing", "Nothing.", "none", "–", " "])
def test_a_card_that_knows_of_nothing_adds_nothing(card: str) -> None:
    assert differing({}, card) == []


def test_what_bears_on_the_comparison_counts_and_what_is_of_the_part_or_for_the_record_does_not() -> None:
    changed = {"part": "new", "fuel": "98, new", "pulls_since_build": "9", "tune": "", "exhaust": "open"}
    assert differing(changed, "nothing but the coolant") == [
        ("fuel", "98", "98, new"),
        ("exhaust", "not recorded", "open"),
        ("tune", "7", "not recorded"),
        ("card", "", "nothing but the coolant"),
    ]


def test_another_vehicle_is_no_comparison() -> None:
    a, b = {**BASE, "vehicle": "mark 41"}, {**BASE, "vehicle": "mark 7"}
    found = sheet.compare_sheets(a, b)
    assert found.judgement == sheet.NOT_COMPARABLE
    assert (
        sheet.differing(a, b, found, "nothing") == ()
    )  # no reason makes a package of it: the gate of the vehicle fails


def test_a_card_is_denied_by_the_sheets() -> None:
    items = [sheet.Differing(k, sheet.BY_KEY[k].label, "x", "y") for k in ("bonnet", "fuel", "cam")]
    words = "4th gear, Bonnet shut, fan on; same fuel"
    assert sheet.denied(words, items) == ("Bonnet, fan, air feed", "Fuel and batch")
