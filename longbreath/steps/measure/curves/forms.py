"""Forms of curves. All of them live in the address."""

from __future__ import annotations

from collections.abc import Sequence

from werkzeug.datastructures import MultiDict

from longbreath.core.claim.facts import Fact
from longbreath.core.claim.grammar import Composition, SheetLine, usual
from longbreath.web.forms import AskForm, QuantityField


def chosen(asked: MultiDict[str, str], facts: Sequence[Fact]) -> Composition:
    """What an address chooses to say of two traces: the lifts that are ticked, one wording for all, with intervals or not."""
    if "say" not in asked:
        return usual(facts)
    short, phrasing = "short" in asked, asked.get("phrasing", 0, int)
    return Composition(tuple(SheetLine(key, phrasing, short) for key in asked.getlist("fact")), "joined" in asked)


class TargetForm(AskForm):
    """What a stack shall flow."""

    target = QuantityField("The stack shall flow", "flow", 1e-6, 10, required=False)


class EqualFlowForm(AskForm):
    """The flow at which back pressures are compared."""

    wanted = QuantityField("Back pressure at a flow of", "flow", 1e-6, 10, required=False)
