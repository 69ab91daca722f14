"""Records that would read alike are told apart."""

from __future__ import annotations

from datetime import date
from types import SimpleNamespace

import pytest

from longbreath.dossier.naming import session_names, told_apart
from longbreath.dossier.places import measure_places
from longbreath.dossier.pull.naming import label_in
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories


def test_sessions_of_one_day_are_counted_in_the_order_they_were_opened() -> None:
    day, next_day = date(2026, 5, 14), date(2026, 5, 15)
    rows = [
        SimpleNamespace(id=9, held_on=day),
        SimpleNamespace(id=4, held_on=day),
        SimpleNamespace(id=5, held_on=next_day),
    ]
    assert session_names(rows) == {4: "14 May 2026, first session", 9: "14 May 2026, second session", 5: "15 May 2026"}


@pytest.mark.parametrize(
    ("names", "more", "told"),
    [
        (["stock", "Gannet"], ["cylinder 1", "cylinder 2"], ["stock", "Gannet"]),
        (["stock", "stock"], ["cylinder 1", "cylinder 2"], ["stock, cylinder 1", "stock, cylinder 2"]),
        (["stock", "stock"], ["cylinder 1", "cylinder 1"], ["stock, cylinder 1, first", "stock, cylinder 1, second"]),
        (["stock", "stock"], ["", ""], ["stock, first", "stock, second"]),
    ],
)
def test_traces_with_one_name_are_told_apart(names: list[str], more: list[str], told: list[str]) -> None:
    assert told_apart(names, more) == told


@pytest.mark.parametrize(
    ("filename", "label"),
    [
        ("petrel-01-stock.csv", "A"),
        ("petrel-04-petrel.csv", "B"),
        ("Pull_A_3.csv", "A"),
        ("pull b 4.CSV", "B"),
        ("a-against-b.csv", ""),
        ("run-07.csv", ""),
        ("baseline2.csv", "A"),
    ],
)
def test_a_file_name_says_what_was_pulled_or_nothing(filename: str, label: str) -> None:
    assert label_in(filename, {"petrel", "mm", "throttle", "body", "rev", "a"}) == label


def keys(db: UnitOfWork, shop: SimpleNamespace) -> set[str]:
    return {place.key for group in measure_places(db, shop.application) for place in group.places}


def test_places_of_measure_are_those_of_the_family_and_those_that_hold_something(
    db: UnitOfWork, shop: SimpleNamespace
) -> None:
    assert keys(db, shop) == {
        *("bench", "curves", "stacks", "parts", "maps", "porting"),
        *("path", "faces", "fit", "timing", "builds", "trials"),
    }
    shop.application.vehicle.cycle = "two-stroke"
    assert {"ladder", "curves"} <= keys(db, shop)  # its sweeps are kept, so the way to them stays
    shop.application.vehicle.cycle = "four-stroke"
    shop.application.revision.product.side = "exhaust"
    assert not {"maps", "porting", "ladder"} & keys(db, shop)
    assert factories.capture(db, shop.traces["A"], 100.0).id
    assert {"curves", "stacks"} <= keys(db, shop)
