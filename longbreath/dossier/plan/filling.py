"""A factorial while it fills: which condition has its pulls, and what can be told so far."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.plan.factorial import Completeness, completeness, degrees_of_freedom
from longbreath.dossier.records.cards import factors_of
from longbreath.store.models import DynoSession, Pull, PullJudgement, TestCard

ENOUGH = 2
"""Valid pulls from which on a condition counts as filled: one alone says nothing of its scatter."""


@dataclass(frozen=True)
class FillingRow:
    """One row of the matrix: the levels of all factors but the last, and of each condition letter, valid pulls and pulls planned."""

    levels: tuple[str, ...]
    cells: tuple[tuple[str, int, int], ...]


@dataclass(frozen=True)
class Filling:
    """The matrix of a factorial, what it can tell now, and the degrees of freedom of each effect when it is full."""

    names: tuple[str, ...]
    across: tuple[str, ...]
    rows: tuple[FillingRow, ...]
    state: Completeness
    degrees: dict[str, int]
    next_words: str


def valid_pulls(db: Session, card: TestCard) -> Counter[str]:
    """Valid pulls by letter, over all sessions of a card and of the versions before it that held and compared the same."""
    latest = select(func.max(PullJudgement.id)).group_by(PullJudgement.pull_id)
    query = (
        select(Pull.label, func.count())
        .join(DynoSession, DynoSession.id == Pull.session_id)
        .join(PullJudgement, PullJudgement.pull_id == Pull.id)
        .where(
            DynoSession.card_id.in_(_same_before(db, card)),
            PullJudgement.id.in_(latest),
            PullJudgement.valid,
            Pull.kind == "sweep",
        )
        .group_by(Pull.label)
    )
    return Counter({letter: count for letter, count in db.execute(query)})


_BEARING = ("factors", "held", "also_changed", "tune_mode", "control_mode", "dyno_id", "mixture_target")
"""What two versions of a card must have alike so that their pulls count together."""


def _same_before(db: Session, card: TestCard) -> list[int]:
    """Numbers of a card and of the versions before it, as far as nothing that bears on a comparison was changed."""
    found, before = [card.id], db.get(TestCard, card.follows_id) if card.follows_id else None
    while before is not None and all(getattr(before, name) == getattr(card, name) for name in _BEARING):
        found.append(before.id)
        before = db.get(TestCard, before.follows_id) if before.follows_id else None
    return found


def filling_of(db: Session, card: TestCard) -> Filling | None:
    """How a factorial fills; None for a card of another design."""
    if card.design != "factorial":
        return None
    factors = factors_of(card)
    cells = {v.letter: tuple(int(k) for k in v.levels) for v in card.variants}
    valid, planned = valid_pulls(db, card), Counter(card.order)
    state = completeness(factors, cells, [letter for letter in cells if valid[letter] >= ENOUGH])
    by_level = {levels: letter for letter, levels in cells.items()}
    rows: dict[tuple[int, ...], list[tuple[str, int, int]]] = {}
    for levels in sorted(by_level):
        letter = by_level[levels]
        rows.setdefault(levels[:-1], []).append((letter, valid[letter], planned[letter]))
    made = tuple(
        FillingRow(tuple(f.levels[k] for f, k in zip(factors, levels, strict=False)), tuple(found))
        for levels, found in rows.items()
    )
    wanted = cells.get(state.next_cell, ())
    words = ", ".join(f"{f.name} {f.levels[k]}" for f, k in zip(factors, wanted, strict=False))
    return Filling(tuple(f.name for f in factors), factors[-1].levels, made, state, degrees_of_freedom(factors), words)
