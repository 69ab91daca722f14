"""Facts out of a weighing, and the statements that the grammar makes of them."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.basis.constants import RPM
from longbreath.core.claim import grammar
from longbreath.core.claim.facts import BOOSTED, GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN, Fact, Setting, facts_of
from longbreath.core.claim.grammar import SheetLine, compose, sentences, usual
from longbreath.core.compare import bands, compare
from longbreath.core.compare.bands import Weighing
from tests.core.compare.flat import BANDS, GRID, runs

SHAPE = 6 * np.exp(-(((GRID / RPM - 4000) / 900) ** 2)) - 4 / (1 + np.exp(-(GRID / RPM - 6200) / 150))
NARROW = 3.0 - 14 * np.exp(-(((GRID / RPM - 4100) / 120) ** 2))
SETTING = Setting("Part rev C", "stock part", "Heron 2.0", "wheel", "SAE J1349", one_session=True, back_to_back=True)


def weighed(effect: np.ndarray | float = SHAPE, noise: float = 0.3, order: str = "AAABBBAAA") -> Weighing:
    return bands.weigh(compare.compare_pulls(runs(order, effect, -0.05, noise), GRID), BANDS)


def said(facts: tuple[Fact, ...], *lines: SheetLine, setting: Setting = SETTING, joined: bool = False) -> str:
    return " ".join(sentences(setting, compose(facts, lines), joined))


def test_each_verdict_is_a_fact_and_a_first_draft_says_the_bands() -> None:
    facts = facts_of(weighed())
    assert [(f.kind, f.name) for f in facts if f.scope == "band"] == [
        (GAIN, "middle"),
        (LOSS, "top"),
        (NO_DIFFERENCE, "low"),
    ]
    text = said(facts, *usual(facts).lines)
    assert text.startswith("On the Heron 2.0, the Part rev C gained ")
    assert ", against the stock part. It lost " in text
    assert "of peak wheel torque" not in text  # a peak gain is offered; that peak power fell must be said
    assert "of peak wheel power" in text
    assert text.endswith("Measured back to back in one session, corrected by SAE J1349, stated at the wheel.")


def test_a_proven_loss_cannot_be_left_out_doubled_or_blocked() -> None:
    facts = facts_of(weighed())
    gain = next(f.key for f in facts if f.kind == GAIN)
    only = compose(facts, [SheetLine(gain), SheetLine(gain, 1), SheetLine("gain-power-band-everywhere")])
    assert [fact.kind for fact, _ in only if fact.scope == "band"] == [GAIN, LOSS]
    assert {fact.key for fact, _ in only} >= {fact.key for fact in facts if fact.required}
    assert " lost " in f" {said(facts)} "


def test_a_mean_does_not_hide_a_proven_loss_at_one_speed() -> None:
    facts = facts_of(weighed(NARROW, noise=0.1))
    (local,) = [f for f in facts if f.scope == "local"]
    assert (local.kind, local.name, local.required) == (LOSS, "middle", True)
    assert local.low / RPM == pytest.approx(4100)
    assert re.search(r"lost [\d.]+.lb-ft \([\d.]+.N·m\) of wheel torque at 4\u202f100 rpm", said(facts))


def test_a_boosted_gain_is_blocked_and_its_losses_stay() -> None:
    facts = facts_of(weighed(), boosted=True)
    gain = next(f for f in facts if f.kind == GAIN)
    assert gain.blocked == BOOSTED
    assert not any(f.blocked for f in facts if f.kind != GAIN)
    text = said(facts, SheetLine(gain.key))
    assert "gained" not in text
    assert "lost" in text


def test_null_results_are_facts_like_any_other() -> None:
    none = facts_of(weighed(0.0, noise=0.1))
    text = said(none, *usual(none).lines)
    assert text.count("made no meaningful difference in mean wheel torque") == 3
    unproven = facts_of(weighed(0.0, noise=6.0))
    assert {f.kind for f in unproven} == {NOT_PROVEN}
    assert "showed no proven difference" in said(unproven, *usual(unproven).lines)
    assert said(none) == ""  # nothing chosen, nothing that must be said


def test_another_margin_than_the_usual_one_is_said_in_the_sentence() -> None:
    """What is called no meaningful difference was chosen before the test: a wide choice must not read like the usual one."""
    fact = Fact(NO_DIFFERENCE, "torque", "band", 300.0, 400.0, 0.1, 0.4, "low")
    usual_margin, wide = SETTING, replace(SETTING, margin=0.03)
    assert grammar.clause(fact, SheetLine(fact.key), usual_margin).startswith("made no meaningful difference in mean")
    assert grammar.clause(fact, SheetLine(fact.key), wide).startswith(
        "made no meaningful difference (under 3\u202f%) in mean"
    )
    assert "within 1\u202f% of what it was" in grammar.clause(fact, SheetLine(fact.key, 1), usual_margin)
    assert "within 3\u202f% of what it was" in grammar.clause(fact, SheetLine(fact.key, 1), wide)
    assert all("{" not in words for words in grammar.offered(fact))


def test_back_to_back_and_one_session_are_written_only_where_they_are_so() -> None:
    facts = facts_of(weighed())
    lines = usual(facts).lines
    plain = said(facts, *lines, setting=replace(SETTING, one_session=False, back_to_back=False))
    assert "back to back" not in plain
    assert "one session" not in plain
    assert "Measured, corrected by" in plain
    once = said(facts, *lines, setting=replace(SETTING, back_to_back=False))
    assert "Measured in one session" in once


def test_figures_that_were_not_corrected_say_so() -> None:
    facts = facts_of(weighed())
    text = said(facts, *usual(facts).lines, setting=replace(SETTING, standard=""))
    assert "in one session, not corrected for the air, stated at the wheel." in text


def test_a_package_is_called_one_and_says_what_else_differed() -> None:
    facts = facts_of(weighed())
    text = said(
        facts, *usual(facts).lines, setting=replace(SETTING, package=("Bonnet, fan, air feed", "Fuel and batch"))
    )
    assert "the package around the Part rev C gained" in text
    assert "A and B differed in bonnet, fan, air feed; fuel and batch." in text


def test_phrasings_lengths_and_orders_change_words_and_never_figures() -> None:
    facts = facts_of(weighed())
    keys = [f.key for f in facts]
    one = said(facts, *(SheetLine(k) for k in keys))
    other = said(facts, *(SheetLine(k, 1, True) for k in reversed(keys)), joined=True)
    assert one != other
    amounts = r"[\d.]+\u00a0(?:lb-ft|hp) \([\d.]+\u00a0(?:N·m|kW)\)"
    assert sorted(re.findall(amounts, one)) == sorted(re.findall(amounts, other))
    assert "interval" not in other
    assert other.count(". ") == 1  # what was found, and how it was measured
    assert "; and " in other


@given(st.lists(st.tuples(st.integers(0, 5), st.integers(-3, 9), st.booleans()), max_size=8), st.booleans())
def test_whatever_is_chosen_every_required_fact_is_said_and_nothing_else_appears(
    picks: list[tuple[int, int, bool]], joined: bool
) -> None:
    facts = FACTS
    chosen = [SheetLine(facts[i % len(facts)].key, phrasing, short) for i, phrasing, short in picks]
    found = compose(facts, chosen)
    keys = [fact.key for fact, _ in found]
    assert len(keys) == len(set(keys))
    assert set(keys) == {line.fact for line in chosen} | {f.key for f in facts if f.required}
    text = " ".join(sentences(SETTING, found, joined))
    for fact, line in found:
        assert grammar.clause(fact, line, SETTING) in text


FACTS = facts_of(weighed())


@pytest.mark.parametrize("kind", [GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN])
@pytest.mark.parametrize("quantity", ["torque", "power", "flow"])
def test_every_kind_is_rendered_in_both_units_with_its_interval(kind: str, quantity: str) -> None:
    """Each phrasing of each kind: the size only where something was proven, the interval and both units always."""
    if (kind, quantity) == (NO_DIFFERENCE, "flow"):
        return  # a bench proves a difference or does not
    scopes = ("lift", "part") if quantity == "flow" else ("band", "peak", "local")
    value = -3.0 if kind == LOSS else 3.0
    for scope in scopes:
        fact = Fact(kind, quantity, scope, 314.0, 544.0, value, 0.9, "middle")
        for phrasing in range(len(grammar.phrasings(fact))):
            text = grammar.clause(fact, SheetLine(fact.key, phrasing), SETTING)
            units = {"torque": ("lb-ft", "N·m"), "power": ("hp", "kW"), "flow": ("cfm", "L/s")}[quantity]
            assert all(unit in text for unit in units), text
            assert "95\u202f% interval" in text
            assert "{" not in text
            assert ("gained" in text or "more" in text) == (kind == GAIN)
            assert ("lost" in text or "less" in text.replace("meaningless", "")) == (kind == LOSS)
            assert "interval" not in grammar.clause(fact, SheetLine(fact.key, phrasing, True), SETTING)
