"""Variants of a dossier: what stands under each letter, and what differs between them beside the part."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict

from sqlalchemy import exists, insert, select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.build.sheet import folded
from longbreath.core.build.states import STATES, states_in
from longbreath.core.build.variant import PartCard, VariantCard, resolved, said
from longbreath.core.case.pulls import uneven
from longbreath.core.plan.designs import letters
from longbreath.dossier.commands import put
from longbreath.store.models import (
    Application,
    BuildSheet,
    CardVariant,
    DynoSession,
    Product,
    Pull,
    Revision,
    Sample,
    TuneFile,
    Variant,
    VariantPart,
)
from longbreath.store.unit_of_work import UnitOfWork


def variants_of(db: Session, application_id: int) -> list[Variant]:
    """All variants of a dossier, by letter."""
    found = db.scalars(select(Variant).where(Variant.application_id == application_id)).all()
    return sorted(found, key=lambda v: (len(v.letter), v.letter))


def letter_choices(db: Session, application_id: int, none: tuple[str, str] | None = None) -> list[tuple[str, str]]:
    """Letters of a dossier to choose from, with what stands under each; `none` goes before them."""
    found = [(v.letter, f"{v.letter}, {_short(v)}") for v in variants_of(db, application_id)]
    return [none, *found] if none else found


def _short(variant: Variant) -> str:
    by_letter = {"A": "stock", "B": "the product"}
    return by_letter.get(variant.letter) or variant.name or variant.title


def is_pulled(db: Session, variant: Variant) -> bool:
    """Whether pulls were taken of it: it then stays as it was."""
    taken = (
        select(Pull.id)
        .join(DynoSession, DynoSession.id == Pull.session_id)
        .join(CardVariant, CardVariant.card_id == DynoSession.card_id)
        .where(CardVariant.variant_id == variant.id, Pull.label == CardVariant.letter)
    )
    return bool(db.scalar(select(exists(taken))))


def next_letter(db: Session, application_id: int) -> str:
    """The first letter that is free in a dossier."""
    taken = {v.letter for v in variants_of(db, application_id)}
    return next(letter for letter in letters(26 * 27) if letter not in taken)


def first_variants(work: UnitOfWork, application: Application) -> None:
    """Give a new dossier A, its stock part, and B, its product, in the states that the library tells of them. They come with the
    dossier, so the log says nothing of them."""
    for letter, revision, base in (("A", application.stock_revision, ""), ("B", application.revision, "A")):
        card = asdict(PartCard(revision.id)) | states_in(revision.state)
        new = insert(Variant).values(application_id=application.id, letter=letter, base=base)
        number = work.scalar(new.returning(Variant.id))
        work.execute(insert(VariantPart).values(variant_id=number, **card))


def save_variant(work: UnitOfWork, application: Application, variant: Variant | None, card: VariantCard) -> Variant:
    """Add a variant under the next free letter, or change one that was not pulled. What the card says nothing of is as its base has
    it, and whatever is like this one, and was not pulled, follows it.

    Raises InputError for one that was pulled, has neither part nor name, is like itself, or whose parts do not match its tune.
    """
    if variant is not None and is_pulled(work, variant):
        raise InputError("Pulls were taken of it: it stays as it was. Give the change a letter of its own.", "name")
    letter = variant.letter if variant is not None else next_letter(work, application.id)
    own = {v.letter: v for v in variants_of(work, application.id)}
    base = _base_of(own, letter, card.base)
    if not (card.parts or card.name.strip() or (base and (card.tune_id or card.control_mode.strip()))):
        raise InputError("Choose a part, or say in words what this is.", "name")
    _check_parts(work, card.parts)
    before = card_of(variant) if variant is not None else None
    if base:
        card = resolved(card, card_of(own[base]), places(work, application))
    saved = variant or Variant(application_id=application.id, letter=letter)
    _write(work, saved, card, base)
    if trouble := tune_trouble(saved, build_of(work, saved)):
        raise InputError(trouble, "tune_id")
    if before is not None:
        _follow(work, application, saved, before)
    return saved


def card_of(variant: Variant) -> VariantCard:
    """What a variant is, as it would be written anew."""
    parts = tuple(PartCard(p.revision_id, p.sample_id, *(getattr(p, name) for name in STATES)) for p in variant.parts)
    beside = (variant.name, variant.build_title, variant.tune_id, variant.control_mode, variant.rounds)
    return VariantCard(parts, *beside, variant.base)


def _base_of(own: Mapping[str, Variant], letter: str, asked: str) -> str:
    """The letter that a variant is like; empty for the first of all. Raises InputError where there is none, or it is like this one."""
    if not asked or (letter == "A" and asked == "A"):
        return ""
    if asked not in own:
        raise InputError(f"There is no variant {asked} in this application.", "base")
    above = asked
    while above:
        if above == letter:
            raise InputError(f"{asked} is itself like {letter}: choose another, or write this one out whole.", "base")
        above = own[above].base if above in own else ""
    return asked


def places(work: UnitOfWork, application: Application) -> Callable[[int], str]:
    """Where a part sits on this vehicle: one that was ever tested against a stock part takes its place, and so do two of one
    family."""
    known: dict[int, str] = {}
    for dossier in work.scalars(select(Application).where(Application.vehicle_id == application.vehicle_id)):
        place = known.setdefault(dossier.stock_revision_id, f"the place of {dossier.stock_revision_id}")
        known.setdefault(dossier.revision_id, place)
    return lambda number: known.get(number) or work.get_one(Revision, number).product.family


def _write(work: UnitOfWork, saved: Variant, card: VariantCard, base: str) -> None:
    saved.name, saved.build_title, saved.tune_id = card.name.strip(), card.build_title, card.tune_id
    saved.control_mode, saved.rounds, saved.base = card.control_mode.strip(), card.rounds, base
    saved.tune = work.get(TuneFile, card.tune_id) if card.tune_id else None
    work.add(saved)
    work.flush()
    _put_parts(work, saved, card.parts)


def _follow(work: UnitOfWork, application: Application, base: Variant, before: VariantCard) -> None:
    """Write what is like a variant anew by what that is now: all of it but what was pulled."""
    now = card_of(base)
    for one in variants_of(work, application.id):
        if one.base == base.letter and not is_pulled(work, one):
            mine = card_of(one)
            _write(work, one, resolved(said(mine, before), now, places(work, application)), one.base)
            _follow(work, application, one, mine)


def _check_parts(work: UnitOfWork, parts: Sequence[PartCard]) -> None:
    for k, part in enumerate(parts, start=1):
        if work.get(Revision, part.revision_id) is None:
            raise InputError("There is no such part in the library.", f"part_{k}")
        sample = work.get(Sample, part.sample_id) if part.sample_id else None
        if part.sample_id and (sample is None or sample.revision_id != part.revision_id):
            raise InputError("This piece is of another part.", f"sample_{k}")


def _put_parts(work: UnitOfWork, variant: Variant, parts: Sequence[PartCard]) -> None:
    """Make the parts of a variant those of a card; a row that stands for the same place is changed, none is removed for nothing."""
    kept = list(variant.parts)
    for row, part in zip(kept, parts, strict=False):
        put(row, part)
        row.revision = work.get_one(Revision, part.revision_id)
    for row in kept[len(parts) :]:
        variant.parts.remove(row)
        work.delete(row)
    for part in parts[len(kept) :]:
        row = VariantPart(variant_id=variant.id, variant=variant)
        put(row, part)
        row.revision = work.get_one(Revision, part.revision_id)
        row.sample = work.get(Sample, part.sample_id) if part.sample_id else None
        work.add(row)
    work.flush()


def build_of(db: Session, variant: Variant) -> BuildSheet | None:
    """The newest build sheet of a variant, of its title or of its letter; where none is written, that of the one it is like."""
    if (found := own_build(db, variant)) is not None or not variant.base:
        return found
    like = (Variant.application_id == variant.application_id, Variant.letter == variant.base)
    base = db.scalar(select(Variant).where(*like))
    return build_of(db, base) if base is not None else None


def own_build(db: Session, variant: Variant) -> BuildSheet | None:
    """The newest build sheet that is written of a variant itself: a claim stands on no other."""
    query = select(BuildSheet).where(BuildSheet.application_id == variant.application_id)
    of_it = BuildSheet.title == variant.build_title if variant.build_title else BuildSheet.label == variant.letter
    return db.scalar(query.where(of_it).order_by(BuildSheet.held_on.desc(), BuildSheet.id.desc()).limit(1))


MADE_FOR = (
    ("sensors", "sensors", "sensor"),
    ("injectors", "injectors", "injectors"),
    ("runner_valves", "runner_valves", "runner valves"),
)
"""What a tune was made for, the line of the build sheet that says what is fitted, and its word."""


def tune_trouble(variant: Variant, build: BuildSheet | None) -> str:
    """Where the tune of a variant was made for other parts than its build sheet names; empty where nothing contradicts."""
    if variant.tune is None or build is None:
        return ""
    for column, line, word in MADE_FOR:
        wanted, fitted = getattr(variant.tune, column).strip(), build.values.get(line, "").strip()
        if wanted and fitted and folded(wanted) != folded(fitted):
            return (
                f"Tune {variant.tune.name} was made for {word} “{wanted}”, but the build sheet “{build.title}” says “{fitted}”: "
                "fit the one, or choose a tune for the other."
            )
    return ""


def unproven_tune(variant: Variant, build: BuildSheet | None) -> tuple[str, ...]:
    """What a variant's tune was made for and its build sheet does not say."""
    if variant.tune is None:
        return ()
    said = build.values if build is not None else {}
    return tuple(
        word
        for column, line, word in MADE_FOR
        if getattr(variant.tune, column).strip() and not said.get(line, "").strip()
    )


def state_changes(one: Variant, other: Variant) -> tuple[str, ...]:
    """In which states two variants differ although the same revision is fitted in both: coated and machined are two."""
    mine = {p.revision_id: p.state for p in one.parts}
    found = []
    for part in other.parts:
        if part.revision_id in mine:
            before = mine[part.revision_id]
            found += [n for n in STATES if folded(part.state.get(n, "")) != folded(before.get(n, ""))]
    return tuple(found)


def packages(variants: Sequence[Variant]) -> dict[str, str]:
    """Letters that differ from the first in more than one thing, with what the changes are; a card names them packages."""
    first, found = variants[0], {}
    reference = set(_changes(first))
    for variant in variants[1:]:
        own = set(_changes(variant))
        more, less = own - reference, reference - own
        count = max(len(more), len(less)) + len(state_changes(first, variant))
        if count > 1:
            found[variant.letter] = f"{variant.letter} differs from {first.letter} in {count} things: a package."
    return found


def uneven_rounds(variants: Sequence[Variant], recorded: Mapping[str, int]) -> str:
    """Tuning rounds that each variant was given, in words, where they are not equal; whoever was tuned more often may win by it.

    recorded: rounds kept on the dyno, by letter; what is written on the variant counts where it is more.
    """
    given = {v.letter: max(v.rounds, recorded.get(v.letter, 0)) for v in variants}
    return uneven(given)


def _changes(variant: Variant) -> tuple[str, ...]:
    """Parts by product and revision, setting and tune."""
    beside = (("setting", variant.control_mode), ("tune", variant.tune.name if variant.tune else ""))
    named = (text.strip() for text in variant.name.split(",") if text.strip())
    return (*(str(p.revision_id) for p in variant.parts), *(f"{n} {t}" for n, t in beside if t), *named)


def revisions(db: Session) -> list[Revision]:
    """All revisions by product, for choosing."""
    return list(db.scalars(select(Revision).join(Product).order_by(Product.name, Revision.id).limit(500)))
