"""Orders of a test, what a swap costs, what a factorial can tell while it fills."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.basis.errors import InputError
from longbreath.core.plan import designs, timetable
from longbreath.core.plan.designs import Factor, PullSet
from longbreath.core.plan.factorial import completeness, degrees_of_freedom

BORE = Factor("Bore", 45.0, ("62 mm", "66 mm"))
SPACER = Factor("Spacer", 20.0, ("none", "12 mm"))
SETTING = Factor("Setting", 2.0, ("low", "middle", "high"))


def told(sets: tuple[PullSet, ...]) -> str:
    return "-".join(s.letter for s in sets)


def test_alternations_and_ladders_return_to_what_was_first() -> None:
    assert told(designs.alternation(3, 1)) == "A-B-A"
    assert told(designs.alternation(3, 2, returns=False)) == "A-B-A-B"
    assert told(designs.alternation(3, 2)) == "A-B-A-B-A"
    assert told(designs.ladder(2, ["A", "B", "C"])) == "A-B-C-A"
    assert designs.order_of(designs.alternation(2, 1)) == list("AABBAA")


def test_a_factorial_pulls_every_condition_and_swaps_the_slow_factor_once() -> None:
    sets = designs.factorial((BORE, SPACER, SETTING), 2, seed=3)
    cells = designs.cells_of((BORE, SPACER, SETTING))
    assert sorted({s.letter for s in sets}) == sorted(cells)
    assert len(sets) == 13
    assert sets[0].letter == sets[-1].letter == "A"
    assert cells["B"] == (1, 0, 0)
    changed = [sum(a != b for a, b in pairwise(cells[s.letter][k] for s in sets[:-1])) for k in range(3)]
    assert changed[:2] == [1, 2], "the manifold is swapped once, the spacer at the least, the rest is free"


def test_what_costs_nothing_is_drawn_by_lot_and_what_costs_is_not() -> None:
    factors = (BORE, SPACER, SETTING)
    orders = {told(designs.factorial(factors, 2, seed)) for seed in range(12)}
    assert len(orders) > 6
    slow = (BORE, SPACER, Factor("Pipe", 30.0, ("a", "b", "c")))
    assert len({told(designs.factorial(slow, 2, seed)) for seed in range(6)}) == 1
    assert designs.factorial(factors, 2, 5) == designs.factorial(factors, 2, 5)


@given(st.lists(st.tuples(st.integers(2, 3), st.floats(0.0, 90.0)), min_size=2, max_size=3), st.integers(0, 99))
def test_any_factorial_holds_each_condition_once_and_returns(shapes: list[tuple[int, float]], seed: int) -> None:
    factors = [Factor(f"f{k}", m, tuple(str(n) for n in range(c))) for k, (c, m) in enumerate(shapes)]
    sets = designs.factorial(factors, 2, seed)
    letters = [s.letter for s in sets]
    assert sorted(letters[:-1]) == sorted(designs.cells_of(factors))
    assert letters[-1] == "A"
    assert letters[0] == "A"


@pytest.mark.parametrize(
    ("factors", "words"),
    [
        ((BORE,), "at least two factors"),
        ((BORE, Factor("Spacer", 1.0, ("none",))), "two levels or more"),
        ((BORE, Factor("Spacer", 1.0, ("none", "None"))), "names a level twice"),
        ((Factor("a", 1.0, tuple("abcdefgh")), Factor("b", 1.0, tuple("abcdefgh"))), "48 are the most"),
    ],
)
def test_factors_that_make_no_design_are_refused(factors: tuple[Factor, ...], words: str) -> None:
    with pytest.raises(InputError, match=words):
        designs.factorial(factors, 2)


def test_a_change_costs_the_factors_that_change() -> None:
    cells = designs.cells_of((BORE, SPACER, SETTING))
    minutes = designs.change_minutes((BORE, SPACER, SETTING), cells, 60.0)
    other = next(letter for letter, cell in cells.items() if cell == (1, 1, 2))
    assert minutes("A", "B") == 45.0
    assert minutes("A", other) == 67.0
    assert designs.change_minutes((), {}, 60.0)("A", "B") == 60.0


def test_while_cells_are_empty_it_says_what_cannot_be_told_and_what_would_part_it() -> None:
    factors = (BORE, SPACER)
    cells = designs.cells_of(factors)
    half = completeness(factors, cells, ["A", next(c for c, v in cells.items() if v == (1, 1))])
    by_name = {e.name: e for e in half.effects}
    assert (not by_name["Bore"].told and by_name["Bore"].mixed_with == ("Spacer",)) or "Spacer" in by_name[
        "Bore"
    ].mixed_with
    assert half.next_cell
    assert half.filled == 2
    full = completeness(factors, cells, list(cells))
    assert full.is_complete
    assert all(e.told for e in full.effects)
    assert full.next_cell == ""
    nothing = completeness(factors, cells, [])
    assert not any(e.told for e in nothing.effects)


def test_a_half_that_never_changed_a_factor_blames_no_other() -> None:
    factors = (BORE, SPACER, SETTING)
    cells = designs.cells_of(factors)
    stock = [letter for letter, cell in cells.items() if cell[0] == 0]
    found = {e.name: e for e in completeness(factors, cells, stock).effects}
    assert found["Spacer × Setting"].told
    assert found["Spacer"].mixed_with == ("Bore × Spacer",)
    assert found["Setting"].mixed_with == ("Bore × Setting",)


def test_degrees_of_freedom_add_up() -> None:
    found = degrees_of_freedom((BORE, SPACER, SETTING))
    assert sum(found.values()) == 11
    assert found["Setting"] == 2
    assert found["rest"] == 2


def test_a_day_has_every_set_and_swap_and_says_what_to_leave_out_first() -> None:
    sets = designs.alternation(3, 1)
    times = timetable.Times(ready=30, pull=1, cool_down=4, swap=45, warm_up=2, pack=20, margin=0.0)
    lines = timetable.timetable(sets, times, lambda a, b: 45.0)
    assert [line.kind for line in lines] == ["ready", "warm", "set", "swap", "set", "swap", "set", "pack"]
    assert timetable.length(lines) == 30 + 10 + 3 * 15 + 2 * 45 + 20
    tuned = timetable.timetable(sets, timetable.Times(rounds=2, margin=0.0), lambda a, b: 45.0)
    assert [line.letter for line in tuned if line.kind == "tune"] == ["A", "B"]

    def length(some: tuple[PullSet, ...]) -> float:
        return timetable.length(timetable.timetable(some, times, lambda a, b: 45.0))

    choices = timetable.leave_out(sets, length, lambda s: 4.0 / sum(x.pulls for x in s) if len(s) > 2 else None)
    assert choices[0].what == "one pull of each set"
    assert choices[0].saves == 15.0
    assert "drift and part cannot be told apart" in choices[-1].price
