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
    ({"cam": "grind 4"}, {"grind 4": "stock"}, "comparable"),
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
