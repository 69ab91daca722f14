"""A pull is known again by its content, however its log was written anew; and no pull is taken for another one."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest

from longbreath.core.pull.likeness import Stretch, is_same, may_be_same, traces_of
from longbreath.core.pull.pulls import Array
from longbreath.devices.made_engine import pull
from longbreath.devices.made_torque import BEDS

DIGITS = {"rpm": 0, "torque": 1, "mixture": 3, "map": 1, "exhaust": 0}


def logged(seed: int, columns: tuple[str, ...] = ("rpm", "torque"), every: int = 1) -> Array:
    """Columns of a made pull as a logger writes them."""
    made = pull(BEDS["heron"].stock, seed)
    return np.column_stack([np.round(made[name], DIGITS[name]) for name in columns])[::every]


def edited(values: Array, rng: np.random.Generator) -> Array:
    """One cell is another."""
    found = values.copy()
    found[values.shape[0] // 3, 1] += 30.0
    return found


def last_digit(values: Array, rng: np.random.Generator) -> Array:
    """Torque is off by a step of its last digit, or not."""
    noise = rng.choice([-0.1, 0.0, 0.1], values.shape[0])
    return np.column_stack([values[:, 0], np.round(values[:, 1] + noise, 1)])


FORGED: dict[str, Callable[[Array, np.random.Generator], Array]] = {
    "as it was": lambda values, rng: values,
    "cut at both ends": lambda values, rng: values[len(values) // 10 : -len(values) // 12],
    "in another order": lambda values, rng: values[rng.permutation(len(values))],
    "from its end to its beginning": lambda values, rng: values[::-1],
    "in another unit": lambda values, rng: np.column_stack([values[:, 0], np.round(0.7376 * values[:, 1], 1)]),
    "scaled and shifted": lambda values, rng: np.column_stack([values[:, 0], np.round(1.037 * values[:, 1] + 2.1, 1)]),
    "upside down": lambda values, rng: np.column_stack([values[:, 0], 400.0 - values[:, 1]]),
    "with an edited cell": edited,
    "with noise in the last digit": last_digit,
    "with one column alone": lambda values, rng: np.column_stack(
        [values[:, 0] + rng.normal(0, 3, len(values)), values[:, 1]]
    ),
}


def is_found(one: Array, other: Array) -> bool:
    """Whether a house that has one finds it again in the other."""
    a, b = Stretch(one, 0), Stretch(other, 0)
    looked_up = any(
        set(ours.marks) & set(theirs.marks) and may_be_same(ours, theirs)
        for ours in traces_of(a)
        for theirs in traces_of(b)
    )
    return looked_up and is_same(a, b)


@pytest.mark.parametrize("every", [1, 2])
@pytest.mark.parametrize("how", FORGED)
def test_a_pull_that_comes_again_is_known_however_it_was_written(how: str, every: int) -> None:
    rng = np.random.default_rng(11)
    found = [is_found(logged(n, every=every), FORGED[how](logged(n, every=every), rng)) for n in range(20)]
    least = 17 if how == "with noise in the last digit" else 20  # one column; a log of two would be known by the other
    assert sum(found) >= least


def falsely_alike(count: int) -> int:
    """How many of so many independent pulls of one engine are taken for another one."""
    columns = ("rpm", "torque", "mixture", "map", "exhaust")
    stretches = [Stretch(logged(5000 + n, columns, every=2), 0) for n in range(count)]
    by_mark: dict[int, list[tuple[int, object]]] = {}
    false = 0
    for number, stretch in enumerate(stretches):
        alike = {}
        for trace in traces_of(stretch):
            for mark in trace.marks:
                for other, theirs in by_mark.setdefault(mark, []):
                    if other != number:
                        alike[other, trace.column, trace.by_speed, id(theirs)] = (trace, theirs)
                by_mark[mark].append((number, trace))
        worth = {key[0] for key, (ours, theirs) in alike.items() if may_be_same(ours, theirs)}  # type: ignore[arg-type]
        false += any(is_same(stretch, stretches[other]) for other in worth)
    return false


def test_no_pull_is_taken_for_another() -> None:
    assert falsely_alike(250) == 0


@pytest.mark.long
def test_no_pull_of_many_is_taken_for_another() -> None:
    assert falsely_alike(20_000) == 0


def test_an_axis_and_a_column_that_stands_still_say_nothing() -> None:
    steps = np.arange(200.0)
    flat = Stretch(np.column_stack([0.04 * steps, 1000.0 + 25.0 * steps, np.full(200, 99.6), np.full(200, np.nan)]), 1)
    assert traces_of(flat) == []
    assert not is_same(flat, flat)


def test_time_in_the_order_of_a_speed_that_scatters_says_nothing() -> None:
    rng = np.random.default_rng(4)
    held = [Stretch(np.column_stack([0.04 * np.arange(120.0), 900.0 + rng.normal(0.0, 3.0, 120)]), 1) for _ in range(2)]
    assert {trace.column for stretch in held for trace in traces_of(stretch)} == {1}
    assert not is_same(*held)


def test_a_smooth_column_is_known_by_its_very_figures() -> None:
    speed = np.arange(1700.0, 7000.0, 50.0)
    torque = np.round(170.0 + 12.0 * np.sin(speed / 700.0), 1)
    one, other = Stretch(np.column_stack([speed, torque]), 0), Stretch(np.column_stack([speed, torque])[8:-9], 0)
    assert is_same(one, other)
    moved = Stretch(np.column_stack([speed, np.round(torque + 0.4 * np.cos(speed / 300.0), 1)]), 0)
    assert not is_same(one, moved)


def test_the_end_of_one_pull_before_the_next_one_makes_them_no_copies() -> None:
    one, other = logged(31, ("rpm", "torque", "exhaust")), logged(32, ("rpm", "torque", "exhaust"))
    assert not is_same(Stretch(one, 0), Stretch(np.vstack([one[-70:], other]), 0))
    smooth = [
        np.round(np.column_stack([made[:, 0], 9.0 + np.sin(made[:, 0] / (700.0 + n))]), 2)
        for n, made in enumerate((one, other))
    ]
    assert not is_same(Stretch(smooth[0], 0), Stretch(np.vstack([smooth[0][-70:], smooth[1][:150]]), 0))


def test_a_few_rows_are_no_pull_to_be_known() -> None:
    assert traces_of(Stretch(logged(1)[:20], 0)) == []
    assert traces_of(Stretch(np.zeros((0, 2)), 0)) == []
