"""The words of a statement: a small grammar that renders facts. Figures, units, conditions and losses are not the writer's."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.claim.facts import (
    BAND,
    GAIN,
    LIFT,
    LOCAL,
    LOSS,
    NO_DIFFERENCE,
    NOT_PROVEN,
    PART,
    PEAK,
    Fact,
    Setting,
)
from longbreath.core.claim.rounding import Amount, amount


@dataclass(frozen=True)
class Line:
    """One fact of a statement by its key, the phrasing chosen for it, and whether its interval is left to the table."""

    fact: str
    phrasing: int = 0
    short: bool = False


@dataclass(frozen=True)
class Composition:
    """What the writer chooses: the lines in their order, and whether they are joined into one sentence."""

    lines: tuple[Line, ...] = ()
    joined: bool = False


USUAL_MARGIN = 0.01
"""Of no meaningful difference; another one is said in the sentence."""
PHRASINGS: Mapping[tuple[str, str], tuple[str, ...]] = {
    (GAIN, "torque"): ("gained {size} of {what}", "made {size} more {what}"),
    (LOSS, "torque"): ("lost {size} of {what}", "made {size} less {what}"),
    (GAIN, "flow"): ("flowed {size} more{what}", "gained {size} of airflow{what}"),
    (LOSS, "flow"): ("flowed {size} less{what}", "lost {size} of airflow{what}"),
    (NO_DIFFERENCE, "torque"): (
        "made no meaningful difference{under} in {what}",
        "kept {what} within {margin} of what it was",
    ),
    (NOT_PROVEN, "torque"): ("showed no proven difference in {what}", "left a difference in {what} unproven"),
    (NOT_PROVEN, "flow"): (
        "showed no proven difference in airflow{what}",
        "left a difference in airflow{what} unproven",
    ),
}
"""The clauses in English by kind and quantity; power is worded as torque is. {size}, {what}, and
the margin of no difference are the software's."""


def phrasings(fact: Fact) -> tuple[str, ...]:
    """The clauses that a fact may be worded by."""
    return PHRASINGS[fact.kind, "flow" if fact.quantity == "flow" else "torque"]


def offered(fact: Fact) -> tuple[str, ...]:
    """The same clauses as a writer is offered them, without what they are of."""
    short = (
        wording.replace(" of {what}", "").replace("{under} in {what}", "").replace(" in {what}", "")
        for wording in phrasings(fact)
    )
    return tuple(wording.replace("{size}", "…").replace("{what}", "…").replace("{margin}", "…") for wording in short)


def printed(fact: Fact) -> Amount:
    """The difference of a fact as it is printed."""
    return amount(fact.value, fact.half_width, fact.quantity)


def clause(fact: Fact, line: Line, setting: Setting, metric_first: bool = False) -> str:
    """One fact in words, without its subject."""
    wordings = phrasings(fact)
    wording = wordings[line.phrasing] if 0 <= line.phrasing < len(wordings) else wordings[0]
    shown = printed(fact)
    margin = f"{100.0 * setting.margin:.3g}\u202f%"
    under = "" if setting.margin == USUAL_MARGIN else f" (under {margin})"
    text = wording.format(size=shown.size(metric_first), what=_what(fact, setting), margin=margin, under=under)
    return text if line.short else f"{text} (95\u202f% interval {shown.interval(metric_first)})"


def _what(fact: Fact, setting: Setting) -> str:
    if fact.scope == BAND:
        return f"mean {setting.at} {fact.quantity} between {_rpm(fact.low)} and {_rpm(fact.high)} rpm"
    if fact.scope == PEAK:
        return f"peak {setting.at} {fact.quantity}"
    if fact.scope == LOCAL:
        return f"{setting.at} {fact.quantity} at {_rpm(fact.low)} rpm"
    if fact.scope == LIFT:
        return f" at {units.show(fact.low, 'length', 'metric')} of lift"
    assert fact.scope == PART
    return ""


def _rpm(speed: float) -> str:
    return f"{speed / RPM:,.0f}".replace(",", "\u202f")


def compose(facts: Sequence[Fact], chosen: Sequence[Line]) -> tuple[tuple[Fact, Line], ...]:
    """The facts a statement says, in the writer's order: unknown and blocked ones fall out, required ones cannot.

    A fact is said once. A required fact that was left out comes after those that were chosen.
    """
    known = {fact.key: fact for fact in facts if not fact.blocked}
    lines = {line.fact: line for line in reversed(chosen) if line.fact in known}
    order = [key for key in dict.fromkeys(line.fact for line in chosen) if key in known]
    order += [fact.key for fact in facts if fact.required and fact.key in known and fact.key not in order]
    return tuple((known[key], lines.get(key, Line(key))) for key in order)


def usual(facts: Sequence[Fact]) -> Composition:
    """The first draft: everything usual, in the order of the facts."""
    return Composition(tuple(Line(fact.key) for fact in facts if fact.usual or fact.required))


def sentences(
    setting: Setting, said: Sequence[tuple[Fact, Line]], joined: bool = False, metric_first: bool = False
) -> tuple[str, ...]:
    """A statement as sentences: what was found, what else differed if anything did, and how it was measured."""
    clauses = [clause(fact, line, setting, metric_first) for fact, line in said]
    if not clauses:
        return ()
    return (*_found(setting, clauses, joined, metric_first), *_package(setting), _measured(setting))


def _found(setting: Setting, clauses: list[str], joined: bool, metric_first: bool) -> list[str]:
    subject = f"{_place(setting, metric_first)}, {_subject(setting)}"
    end = f"against the {setting.against}."
    if joined or len(clauses) == 1:
        told = clauses[0] if len(clauses) == 1 else f"{'; '.join(clauses[:-1])}; and {clauses[-1]}"
        return [f"{subject} {told}, {end}"]
    return [f"{subject} {clauses[0]}, {end}", *(f"It {text}." for text in clauses[1:])]


def _place(setting: Setting, metric_first: bool) -> str:
    if not setting.of_airflow:
        return f"On the {setting.vehicle}"
    column = [units.show(setting.test_pressure, "column", system) for system in ("us", "metric")]
    first, second = reversed(column) if metric_first else column
    return f"On one port, at {first} ({second}), {setting.fixture}"


def _subject(setting: Setting) -> str:
    return f"the package around the {setting.part}" if setting.package else f"the {setting.part}"


def _package(setting: Setting) -> tuple[str, ...]:
    if not setting.package:
        return ()
    listed = "; ".join(item[0].lower() + item[1:] for item in setting.package)
    return (f"This is the result of a package: beside the part, A and B differed in {listed}.",)


def _measured(setting: Setting) -> str:
    if setting.of_airflow:
        return "Airflow on a bench, not power."
    how = [*(["back to back"] if setting.back_to_back else []), *(["in one session"] if setting.one_session else [])]
    first = f"Measured {' '.join(how)}" if how else "Measured"
    corrected = f"corrected by {setting.standard}" if setting.standard else "not corrected for the air"
    return f"{first}, {corrected}, stated at the {setting.at}."
