"""The words of a statement: a small grammar that renders facts. Figures, units, conditions and losses are not the writer's."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from longbreath.core.claim.facts import Fact, Setting
from longbreath.core.claim.kinds.register import KINDS, QUANTITIES
from longbreath.core.claim.rounding import Amount, amount, exact


@dataclass(frozen=True)
class SheetLine:
    """One fact of a statement by its key, the phrasing chosen for it, and whether its interval is left to the table."""

    fact: str
    phrasing: int = 0
    short: bool = False


@dataclass(frozen=True)
class Composition:
    """What the writer chooses: the lines in their order, and whether they are joined into one sentence."""

    lines: tuple[SheetLine, ...] = ()
    joined: bool = False


USUAL_MARGIN = 0.01
"""Of no meaningful difference; another one is said in the sentence."""


def phrasings(fact: Fact) -> tuple[str, ...]:
    """The clauses that a fact may be worded by."""
    return QUANTITIES[fact.quantity].wordings[fact.kind]


def offered(fact: Fact) -> tuple[str, ...]:
    """The same clauses as a writer is offered them, without what they are of."""
    short = (
        wording.replace(" of {what}", "").replace("{under} in {what}", "").replace(" in {what}", "")
        for wording in phrasings(fact)
    )
    made = (w.replace("{size}", "…").replace("{what}", "…").replace("{margin}", "…") for w in short)
    return tuple(wording.replace("{name}", "…").replace("{under}", "") for wording in made)


def printed(fact: Fact) -> Amount:
    """The difference of a fact as it is printed."""
    quantity = QUANTITIES[fact.quantity]
    return amount(fact.value, fact.half_width, quantity.unit, quantity.less_is_better)


def clause(fact: Fact, line: SheetLine, setting: Setting, metric_first: bool = False) -> str:
    """One fact in words, without its subject."""
    wordings, quantity = phrasings(fact), QUANTITIES[fact.quantity]
    wording = wordings[line.phrasing] if 0 <= line.phrasing < len(wordings) else wordings[0]
    margin = f"{100.0 * setting.margin:.3g}\u202f%"
    under = "" if setting.margin == USUAL_MARGIN else f" (under {margin})"
    told = {"what": quantity.what(fact, setting), "margin": margin, "under": under, "name": fact.name}
    if quantity.exact:
        return wording.format(size=exact(fact.value, quantity.unit), **told)
    shown = printed(fact)
    text = wording.format(size=shown.size(metric_first), **told)
    return text if line.short else f"{text} (95\u202f% interval {shown.interval(metric_first)})"


def compose(facts: Sequence[Fact], chosen: Sequence[SheetLine]) -> tuple[tuple[Fact, SheetLine], ...]:
    """The facts a statement says, in the writer's order: unknown and blocked ones fall out, required ones cannot.

    A fact is said once. A required fact that was left out comes after those that were chosen.
    """
    known = {fact.key: fact for fact in facts if not fact.blocked}
    lines = {line.fact: line for line in reversed(chosen) if line.fact in known}
    order = [key for key in dict.fromkeys(line.fact for line in chosen) if key in known]
    order += [fact.key for fact in facts if fact.required and fact.key in known and fact.key not in order]
    return tuple((known[key], lines.get(key, SheetLine(key))) for key in order)


def usual(facts: Sequence[Fact]) -> Composition:
    """Everything usual, in the order of the facts."""
    return Composition(tuple(SheetLine(fact.key) for fact in facts if fact.usual or fact.required))


def sentences(
    setting: Setting, said: Sequence[tuple[Fact, SheetLine]], joined: bool = False, metric_first: bool = False
) -> tuple[str, ...]:
    """A statement as sentences: what was found, what else differed if anything did, and how it was measured."""
    clauses = [clause(fact, line, setting, metric_first) for fact, line in said]
    if not clauses:
        return ()
    found = _found(setting, clauses, joined, metric_first)
    return (*found, *_package(setting), KINDS[setting.kind].measured(setting), *setting.told)


def _found(setting: Setting, clauses: list[str], joined: bool, metric_first: bool) -> list[str]:
    subject = f"{KINDS[setting.kind].place(setting, metric_first)}, {_subject(setting)}"
    end = f", against the {setting.against}." if setting.against else "."
    if joined or len(clauses) == 1:
        told = clauses[0] if len(clauses) == 1 else f"{'; '.join(clauses[:-1])}; and {clauses[-1]}"
        return [f"{subject} {told}{end}"]
    return [f"{subject} {clauses[0]}{end}", *(f"It {text}." for text in clauses[1:])]


def _subject(setting: Setting) -> str:
    return f"the package around the {setting.part}" if setting.package else f"the {setting.part}"


def _package(setting: Setting) -> tuple[str, ...]:
    if not setting.package:
        return ()
    listed = "; ".join(item[0].lower() + item[1:] for item in setting.package)
    return (f"This is the result of a package: beside the part, A and B differed in {listed}.",)
