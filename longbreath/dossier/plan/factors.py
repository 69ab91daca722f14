"""The variants of a factorial or a series: one for each condition, found again where it exists already."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from sqlalchemy.orm import Session

from longbreath.core.build.sheet import folded
from longbreath.core.build.variant import PartCard, VariantCard, resolved
from longbreath.core.plan.designs import Factor, cells_of
from longbreath.dossier.plan.variants import card_of, places, revisions, save_variant, variants_of
from longbreath.store.models import Application, Revision, Variant
from longbreath.store.unit_of_work import UnitOfWork


def revision_named(db: Session, text: str) -> Revision | None:
    """The revision whose title a level names; None where the level is words."""
    return next((r for r in revisions(db) if folded(r.title) == folded(text)), None)


def factor_variants(
    work: UnitOfWork, application: Application, factors: Sequence[Factor], base: str = "A"
) -> list[Variant]:
    """The variants of all conditions in the order of their letters on the card; those that are not there yet are added.

    A level that names a revision of the library fits that part; one of other words is said in the variant's name, but for the
    first, the reference. So what is A and B in the dossier stays A and B here. base: letter of the variant that everything else
    is taken from: its parts of another family than those that vary stay fitted. Raises InputError as `cells_of` and `save_variant`.
    """
    cells = cells_of(factors) if len(factors) > 1 else {str(k): (k,) for k in range(len(factors[0].levels))}
    named = [[revision_named(work, level) for level in f.levels] for f in factors]
    own = variants_of(work, application.id)
    like = next((v for v in own if v.letter == base), None)
    kept = _kept(like, named)
    found = []
    for cell in cells.values():
        own_parts, name = _condition(factors, named, cell)
        parts = (*kept, *own_parts)
        match = next((v for v in own if _is(v, parts, name)), None)
        if match is None:
            match = save_variant(work, application, None, _card(work, application, like, parts, name))
            own.append(match)
        found.append(match)
    return found


def _card(
    work: UnitOfWork, application: Application, like: Variant | None, parts: Sequence[Revision], name: str
) -> VariantCard:
    """A condition as what its base is but for what it changes; written out whole where it leaves away what the base has."""
    said = VariantCard(tuple(PartCard(r.id) for r in parts), name, base=like.letter if like is not None else "")
    if like is None:
        return said
    base = card_of(like)
    whole = resolved(said, base, places(work, application))
    if {part.revision_id for part in whole.parts} == {r.id for r in parts}:
        return said
    return replace(said, tune_id=base.tune_id, control_mode=base.control_mode, base="")


def _kept(like: Variant | None, named: Sequence[Sequence[Revision | None]]) -> list[Revision]:
    """The parts of the base that do not vary."""
    varied = {r.product.family for row in named for r in row if r is not None}
    return [p.revision for p in like.parts if p.revision.product.family not in varied] if like is not None else []


def _condition(
    factors: Sequence[Factor], named: Sequence[Sequence[Revision | None]], cell: tuple[int, ...]
) -> tuple[tuple[Revision, ...], str]:
    """The parts that a condition fits, and the words for what is no part and no reference."""
    chosen = [(f, row[k], k) for f, row, k in zip(factors, named, cell, strict=True)]
    parts = tuple(part for _, part, _ in chosen if part is not None)
    return parts, ", ".join(f"{f.name}: {f.levels[k]}" for f, part, k in chosen if k and part is None)


def _is(variant: Variant, parts: Sequence[Revision], name: str) -> bool:
    return {p.revision_id for p in variant.parts} == {r.id for r in parts} and folded(variant.name) == folded(name)
