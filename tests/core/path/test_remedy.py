"""Remedies that are worth naming."""

from __future__ import annotations

from dataclasses import replace

from longbreath.core.path import remedy, walk
from longbreath.core.path.sections import round_section


def row() -> list[walk.PathElement]:
    pipe = round_section(0.05)
    first = walk.PathElement(1, "pipe", "pipe", "exhaust", 3.0, pipe, pipe)
    muffler = walk.PathElement(2, "muffler", "muffler", "exhaust", 0.5, pipe, pipe, drop=900.0, drop_flow=0.1)
    return [first, muffler]


def test_a_remedy_that_gives_nearly_nothing_is_not_named() -> None:
    burred = [replace(row()[0], burr=0.0004), row()[1]]
    side = walk.flow_through(burred, "exhaust", walk.Duty(0.05))
    assert remedy.best_fix(burred, side, 1) is None
    found = remedy.best_fix(burred, side, 2)
    assert found is not None
    assert found.words == "half its own loss"
    assert remedy.best_fix([], walk.flow_through([], "exhaust", walk.Duty(0.05))) is None


def test_a_remedy_can_be_asked_for_any_element() -> None:
    elements = [replace(row()[0], bend_angle=1.57), row()[1]]
    side = walk.flow_through(elements, "exhaust", walk.Duty(0.08))
    assert side.weakest is not None
    fixes = {key: remedy.best_fix(elements, side, key) for key in (1, 2)}
    assert fixes[1] is not None
    assert fixes[1].words == "a bend of 1.5 D"
    assert fixes[2] is not None
    assert remedy.best_fix(elements, side) == fixes[side.weakest.element.key]
