"""Workings: kept as JSON, shown in both systems with the digits they may."""

from __future__ import annotations

from math import pi

from longbreath.core.basis import working
from longbreath.core.basis.working import Figure, Given, Step, Working, numbered

EXAMPLE = Figure(
    "area",
    "Area",
    0.0014516,
    "area",
    Working(
        "Area",
        (Given("D", "diameter", 0.043, "length", "calliper"), Given("n", "words", "six pulls")),
        (Step("A", "π/4·D²", pi / 4 * 0.043**2, "area"),),
        "plane geometry",
        ("note",),
        ("row 1",),
    ),
    0.00001,
)


def test_a_working_survives_being_kept_as_json() -> None:
    assert working.from_dict(EXAMPLE.to_dict()["working"]) == EXAMPLE.working


def test_a_figure_shows_itself_in_both_systems_with_the_digits_it_may() -> None:
    assert EXAMPLE.text("metric") == "1\u202f452 ± 10 mm²"
    assert EXAMPLE.text("us") == "2.250 ± 0.016 in²"
    assert EXAMPLE.to_dict()["display"] == {"us": EXAMPLE.text("us"), "metric": EXAMPLE.text("metric")}


def test_lines_of_a_working_show_words_and_quantities() -> None:
    shown = [working.shown(given, "metric") for given in EXAMPLE.working.givens]
    assert shown == ["43\u00a0mm", "six pulls"]


def test_rows_that_share_a_name_are_told_apart_by_their_place() -> None:
    assert numbered(["flow", "peak", "flow"], str) == {("flow", 0): "flow", ("peak", 0): "peak", ("flow", 1): "flow"}
