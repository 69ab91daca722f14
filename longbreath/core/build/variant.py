"""Variants: what stands under a letter, and what one takes from the other that it is like."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from longbreath.core.build.states import STATES


@dataclass(frozen=True)
class PartCard:
    """One part of a variant: its revision, which piece, and what was done to it."""

    revision_id: int
    sample_id: int | None = None
    casting: str = ""
    finish: str = ""
    machining: str = ""
    coating: str = ""
    modified: str = ""


@dataclass(frozen=True)
class VariantCard:
    """What a variant is: parts, a name beside them, the title of its build sheet, a tune, a setting, tuning rounds it was given; base:
    the letter of the variant it is like in all that it says nothing of, empty where it is written out whole."""

    parts: tuple[PartCard, ...]
    name: str = ""
    build_title: str = ""
    tune_id: int | None = None
    control_mode: str = ""
    rounds: int = 0
    base: str = "A"


def resolved(card: VariantCard, base: VariantCard, place_of: Callable[[int], str]) -> VariantCard:
    """A card with what it says nothing of as its base has it: parts in places where it names none, states and piece of a part
    that both have, tune, setting. A name, a build sheet and tuning rounds are always its own. place_of: revision → where it sits."""
    before = {part.revision_id: part for part in base.parts}
    taken = {place_of(part.revision_id) for part in card.parts}
    parts = [_part(part, before.get(part.revision_id)) for part in card.parts]
    parts += [part for part in base.parts if place_of(part.revision_id) not in taken]
    in_order = sorted(parts, key=lambda part: _place(part, base.parts, place_of))
    return replace(
        card,
        parts=tuple(in_order),
        tune_id=card.tune_id or base.tune_id,
        control_mode=card.control_mode.strip() or base.control_mode,
    )


def said(card: VariantCard, base: VariantCard) -> VariantCard:
    """The other way: only what a card says that its base does not."""
    before = {part.revision_id: part for part in base.parts}
    parts = tuple(_own(part, before.get(part.revision_id)) for part in card.parts if part not in base.parts)
    return replace(
        card,
        parts=parts,
        tune_id=card.tune_id if card.tune_id != base.tune_id else None,
        control_mode=card.control_mode if card.control_mode != base.control_mode else "",
    )


def _part(part: PartCard, base: PartCard | None) -> PartCard:
    if base is None:
        return part
    states: dict[str, Any] = {n: getattr(part, n).strip() or getattr(base, n) for n in STATES}
    return replace(part, sample_id=part.sample_id or base.sample_id, **states)


def _own(part: PartCard, base: PartCard | None) -> PartCard:
    if base is None:
        return part
    states: dict[str, Any] = {n: "" if getattr(part, n) == getattr(base, n) else getattr(part, n) for n in STATES}
    return replace(part, sample_id=None if part.sample_id == base.sample_id else part.sample_id, **states)


def _place(part: PartCard, base: tuple[PartCard, ...], place_of: Callable[[int], str]) -> int:
    """Where the base has the part of that place; new ones come after."""
    places = [place_of(b.revision_id) for b in base]
    place = place_of(part.revision_id)
    return places.index(place) if place in places else len(places)
