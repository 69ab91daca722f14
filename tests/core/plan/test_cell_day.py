"""What is next on a dyno day: sets in order, repeats, what is made up at the end; waits, stops and lines go before."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.plan.cell_day import (
    ARM,
    ARMED,
    CLOSE,
    FIT,
    JUDGING,
    LINE,
    PULLING,
    STOP,
    WAIT,
    Now,
    Taken,
    next_set,
    next_step,
    waits_of,
)

ABA = (("A", 3), ("B", 3), ("A", 3))
CALLED = {"A": "stock", "B": "long runner"}


def taken(letters: str) -> list[Taken]:
    """Pulls by letter; a small letter is out."""
    return [Taken(letter.upper(), letter.isupper()) for letter in letters]


@pytest.mark.parametrize(
    ("letters", "wanted"),
    [
        ("", ("A", 3)),
        ("A", ("A", 2)),
        ("Aa", ("A", 2)),
        ("AAA", ("B", 3)),
        ("AaAA", ("B", 3)),
        ("AAABbB", ("B", 1)),
        ("AAABBB", ("A", 3)),
        ("AAABBBAA", ("A", 1)),
        ("AAABBBAAA", ("", 0)),
        ("AAB", ("B", 2)),
        ("AABBBAAA", ("A", 1)),  # the first set lacked one: it is made up at the end
        ("AABBBAAAA", ("", 0)),
    ],
)
def test_which_letter_is_next(letters: str, wanted: tuple[str, int]) -> None:
    assert next_set(ABA, taken(letters)) == wanted


@given(st.text("AaBb", max_size=30))
def test_what_is_next_is_wanted_by_the_card(letters: str) -> None:
    label, left = next_set(ABA, taken(letters))
    valid = {letter: sum(p.counts and p.label == letter for p in taken(letters)) for letter in "AB"}
    wanted = {"A": 6, "B": 3}
    if label:
        assert 0 < left <= wanted[label]
        assert valid[label] < wanted[label]
    else:
        assert all(valid[letter] >= wanted[letter] for letter in "AB")


@given(st.lists(st.booleans(), max_size=60))
def test_whoever_does_what_is_next_comes_to_the_end(luck: list[bool]) -> None:
    """Pulling what is asked for, some of them out, the day ends after exactly nine that count."""
    done: list[Taken] = []
    for counts in [*luck, *([True] * 9)]:
        label, _ = next_set(ABA, done)
        if not label:
            break
        done.append(Taken(label, counts))
    assert next_set(ABA, done) == ("", 0)
    assert sum(p.counts for p in done) == 9
    kept = "".join(p.label for p in done if p.counts)
    assert kept == "AAABBBAAA"


def step(letters: str = "", **now: object) -> tuple[str, str]:
    found = next_step(ABA, taken(letters), len(letters) + 1, CALLED, Now(**now))  # type: ignore[arg-type]
    return found.key, found.mark


def test_fit_arm_pull_in_turn() -> None:
    assert step() == (FIT, "fit:A:1")
    assert step(fitted="A") == (ARM, "arm:A:1")
    assert step(fitted="A", armed=1) == (ARMED, "armed:A:1")
    assert step("AAA", fitted="A") == (FIT, "fit:B:4")
    assert step("AAABBBAAA", fitted="A")[0] == CLOSE
    words = next_step(ABA, taken("AAA"), 4, CALLED, Now("A")).words
    assert words == "Take A off and put B on: long runner."


def test_what_goes_before_the_order_of_the_card() -> None:
    assert step(fitted="A", waits=("oil at 60 °C",))[0] == WAIT
    assert step(fitted="A", armed=1, phase="pulling")[0] == PULLING
    assert step(fitted="A", phase="judging", stop="Knock.")[0] == JUDGING
    assert step(fitted="A", stop="Knock at 6 000 rpm.")[0] == STOP
    assert step(fitted="A", line="The dyno says nothing.")[0] == LINE
    assert step(fitted="A", armed=1, stop="Knock.")[0] == STOP
    not_armed = next_step(ABA, [], 1, CALLED, Now("A", None, "pulling"))
    assert "not be recorded" in not_armed.more
    assert not any(
        next_step(ABA, [], 1, CALLED, now).press
        for now in (Now("A", phase="pulling"), Now("A", stop="x"), Now("A", line="x"), Now("A", waits=("x",)))
    )


def test_waits_say_what_is_outside_its_window() -> None:
    window = {"coolant": (355.15, 365.15), "oil": (350.15, 380.15)}
    names = {"coolant": "Coolant", "oil": "Oil"}
    assert waits_of(window, {"coolant": 360.0, "oil": 360.0}, names) == ()
    assert waits_of(window, {}, names) == ()  # what nobody measures cannot be waited for
    (cold,) = waits_of(window, {"coolant": 340.15, "oil": 360.0}, names)
    assert cold == "coolant at 67\u202f°C, below 82\u202f°C to 92\u202f°C"
    (hot,) = waits_of(window, {"coolant": 366.15}, names)
    assert "above" in hot
