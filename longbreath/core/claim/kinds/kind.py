"""What a kind of statement is made of."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from longbreath.core.claim.facts import Fact, Setting

Wordings = Mapping[str, tuple[str, ...]]
"""Clauses by verdict; {size}, {what}, {under}, {margin} and {name} are the software's."""


@dataclass(frozen=True)
class Quantity:
    """One quantity that facts are of: its kind of unit, whether less of it is better, its clauses by verdict.

    exact: a count or a look, printed without an interval. what: what a fact is of, in words.
    """

    name: str
    unit: str
    wordings: Wordings
    what: Callable[[Fact, Setting], str]
    less_is_better: bool = False
    exact: bool = False


@dataclass(frozen=True)
class ClaimKind:
    """A kind of statement: name, title, what it says and on what it rests in words, what it never says.

    quantities: what its facts are of; place: how a sentence begins; measured: how it was measured, in the last sentence.
    """

    name: str
    title: str
    rests_on: str
    never: tuple[str, ...]
    quantities: tuple[Quantity, ...]
    place: Callable[[Setting, bool], str]
    measured: Callable[[Setting], str]


def on_the_vehicle(setting: Setting, metric_first: bool) -> str:
    """The usual beginning: on which vehicle."""
    return f"On the {setting.vehicle}"


def plain(fact: Fact, setting: Setting) -> str:
    """What a fact is of, where its name says it."""
    return fact.name
