"""Gates of readings of a tool, of fuel trials, of looks and runs."""

from __future__ import annotations

from longbreath.core.basis.sentence import counted
from longbreath.core.claim.gates.gate import Grounds, Look, OnLooks, OnTool


def _tool(grounds: Grounds) -> OnTool:
    assert grounds.tool is not None
    return grounds.tool


def _looks(grounds: Grounds) -> OnLooks:
    assert grounds.looks is not None
    return grounds.looks


def weighed(grounds: Grounds) -> Look:
    """The readings can be weighed: enough of A and of B under one set of conditions, or vehicles with and without."""
    problem = _tool(grounds).problem
    return (not problem, problem or "Enough of A and of B under one set of conditions.")


def tool(grounds: Grounds) -> Look:
    """The tool is named, and how finely it reads is in the interval."""
    told = _tool(grounds)
    if not told.tool.strip():
        return (False, "What it was read with is not written.")
    return (told.step > 0.0, told.tool if told.step > 0.0 else f"How finely {told.tool} reads is not written.")


def conditions(grounds: Grounds) -> Look:
    """Every condition of its kind (where the probe sits, the ground, the load) is written down."""
    told = _tool(grounds)
    bare = [label for label, words in told.conditions if not words.strip()]
    return (not bare, f"Not written: {'; '.join(bare)}." if bare else "Written down.")


def money(grounds: Grounds) -> Look:
    """Money stands beside its miles, its price and its band, and only where a saving is proven."""
    said = any(fact.quantity == "money" for fact in grounds.said)
    miles = _tool(grounds).miles
    if not said:
        return (True, "No money is said.")
    return (miles is not None, miles.words if miles is not None else "Money is said without its miles and its price.")


def enough(grounds: Grounds) -> Look:
    """So much was looked at, or run, that it is worth saying."""
    told = _looks(grounds)
    words = f"{counted(told.counted, told.what)} of at least {told.least}."
    return (told.counted >= told.least, words)


def stood(grounds: Grounds) -> Look:
    """No finding on the engine or the part stands against it."""
    told = _looks(grounds)
    words = " ".join(told.findings)
    return (not words, words or "No finding since.")
