"""Every reckoning at the bounds of its inputs, beyond them, and between: what comes is physical, or comes with words."""

from __future__ import annotations

import itertools
from math import isfinite

import numpy as np
import pytest

from longbreath.core.basis import units
from longbreath.core.basis.register import (
    NEVER_NEGATIVE,
    WHOLE,
    Answer,
    Field,
    Reckoning,
    all_reckonings,
    reckoning_named,
)

SOUND = 1100.0
"""No ordinary gas of a reckoning is faster than this [m/s]: sonic in burned gas at 3,000 K."""
ENTRIES = all_reckonings()


def texts(item: Field, rng: np.random.Generator) -> list[str]:
    """What to write into a field: least, most, beyond both, something between, on a scale that suits small sizes."""
    if item.choices:
        return [key for key, _ in item.choices]
    low, high = item.low if item.low is not None else -1e3, item.high if item.high is not None else 1e3
    inner = float(np.exp(rng.uniform(np.log(low), np.log(high)))) if low > 0 else float(rng.uniform(low, high))
    kind = units.kind_named(item.shown_kind)
    symbol = kind.symbol("metric")
    found = []
    for value in (low, high, low - abs(low) - 1.0, 2.0 * abs(high) + 1.0, inner, low * 1.0001, high * 0.9999):
        shown = (
            round(value) if item.kind == WHOLE else units.to_unit(value, item.shown_kind, symbol) if symbol else value
        )
        found.append(f"{shown!r} {symbol}".strip())
    return found


def check(entry: Reckoning, answer: Answer, given: dict[str, str]) -> None:
    """Errors in words beside a field that exists, or figures that can be."""
    if answer.errors:
        assert all(text.strip().endswith((".", "?", "”")) for text in answer.errors.values()), (
            entry.name,
            answer.errors,
        )
        return
    said = answer.judgement.words("metric") if answer.judgement else ""
    for figure in answer.figures:
        where = (entry.name, figure.name, figure.value, given)
        assert isfinite(figure.value), where
        if figure.kind in NEVER_NEGATIVE and not figure.signed:
            assert figure.value >= 0.0, where
        if figure.kind == "temperature":
            assert figure.value > 0.0, where
        if figure.kind == "velocity" and entry.name in ("pitot_velocity", "ideal_flow"):
            assert figure.value < SOUND, where
        if figure.label.startswith("C_d") and figure.value > 1.0:
            assert "above 1" in said, where
        if entry.name == "correction_factor" and not 0.93 <= figure.value <= 1.07:
            assert "far from 1" in said, where
        for words in (*figure.working.notes, said):
            assert " ," not in words, where
            assert "  " not in words, where


@pytest.mark.parametrize("entry", ENTRIES, ids=lambda entry: entry.name)
def test_no_entry_prints_what_cannot_be_without_words(entry: Reckoning) -> None:
    rng = np.random.default_rng(sum(map(ord, entry.name)))
    base = {item.name: item.example for item in entry.fields if item.example}
    offered = {item.name: texts(item, rng) for item in entry.fields}
    for item in entry.fields:  # one input at a time
        for text in offered[item.name]:
            given = base | {item.name: text}
            check(entry, entry.answer(given), given)
    for one, two in itertools.islice(itertools.combinations(entry.fields, 2), 12):  # two at their ends together
        for a, b in itertools.product(offered[one.name][:2], offered[two.name][:2]):
            given = base | {one.name: a, two.name: b}
            check(entry, entry.answer(given), given)
    for _ in range(25):  # all anywhere inside
        given = {name: str(rng.choice(found)) for name, found in offered.items()}
        check(entry, entry.answer(given), given)


@pytest.mark.parametrize(
    ("name", "change", "words"),
    [
        ("air_demand", {"strokes": "3"}, "2 or 4"),
        ("air_demand", {"cylinders": "3.7"}, "whole number"),
        ("runner_reflected", {"speed": "30000 rpm", "reflection": "6", "diameter": "90 mm"}, "no way to go"),
        ("pitot_velocity", {"velocity_pressure": "200 kPa"}, "Faster than sound"),
        ("arc_degrees", {"arc": "800 mm", "radius": "40 mm"}, "once round the rim"),
        ("degrees_arc", {"angle": "400 °"}, "More than a turn"),
    ],
)
def test_what_cannot_be_is_refused(name: str, change: dict[str, str], words: str) -> None:
    entry = reckoning_named(name)
    base = {item.name: item.example for item in entry.fields if item.example}
    assert words in " ".join(entry.answer(base | change).errors.values())


@pytest.mark.parametrize(
    ("name", "change", "words"),
    [
        ("discharge_coefficient", {"flow": "900 cfm"}, "above 1"),
        ("ideal_flow", {"test_pressure": "70 kPa"}, "Choked"),
        ("correction_factor", {"pressure": "800 hPa", "standard": "std_j607"}, "far from 1"),
    ],
)
def test_what_is_doubtful_is_said(name: str, change: dict[str, str], words: str) -> None:
    entry = reckoning_named(name)
    base = {item.name: item.example for item in entry.fields if item.example}
    found = entry.answer(base | change)
    assert found.judgement is not None
    assert words in found.judgement.words("metric")


def test_a_loss_at_a_crawl_says_what_it_was_reckoned_at() -> None:
    entry = reckoning_named("loss_friction")
    base = {item.name: item.example for item in entry.fields if item.example}
    slow = entry.answer(base | {"flow": "0.1 L/s"})
    assert any("Re 4000" in note for figure in slow.figures for note in figure.working.notes)
