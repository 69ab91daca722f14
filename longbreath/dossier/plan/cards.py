"""Test cards: what is compared in which order, what a pull of it is held to; a card in use is frozen, its next version follows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import delete, exists, select
from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.engine.assumptions import BOOSTED
from longbreath.core.plan import conditions, designs
from longbreath.core.plan.designs import Factor, PullSet
from longbreath.dossier.plan.factors import factor_variants
from longbreath.dossier.plan.variants import build_of, tune_trouble, variants_of
from longbreath.dossier.records.cards import has_pulls
from longbreath.store.models import (
    Application,
    CardPair,
    CardTick,
    CardVariant,
    Checklist,
    Dyno,
    DynoSession,
    Pull,
    Sensor,
    TestCard,
    Variant,
)
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class CardDraft:
    """What a test card says: design with the letters or factors it compares, what is held, limits and times, the effect wanted
    [N m], the share of A below which a difference does not matter [1], the mixture asked for [lambda]. limits, window and times
    are SI (times in minutes) by name; brings is who and what."""

    dyno_id: int
    held: str
    also_changed: str
    pulls_per_set: int
    effect_wanted: float
    design: str = designs.ALTERNATION
    letters: tuple[str, ...] = ("A", "B")
    fittings: int = 1
    returns: bool = True
    factors: tuple[Factor, ...] = ()
    seed: int = 1
    no_matter: float = 0.01
    tune_mode: str = ""
    control_mode: str = ""
    mixture_target: float | None = None
    mixture_tolerance: float = 0.03
    limits: dict[str, Any] = field(default_factory=dict)
    window: dict[str, Any] = field(default_factory=dict)
    times: dict[str, Any] = field(default_factory=dict)
    brings: tuple[tuple[str, str], ...] = ()
    consumables: str = ""


def sets_for(draft: CardDraft) -> tuple[PullSet, ...]:
    """The sets that a draft asks for. Raises InputError for letters or factors that do not make its design."""
    n = draft.pulls_per_set
    if draft.design == designs.FACTORIAL:
        return designs.factorial(draft.factors, n, draft.seed)
    if draft.design == designs.SERIES:
        return designs.ladder(n, designs.letters(len(_series(draft).levels)))
    if len(set(draft.letters)) < 2:
        raise InputError("A card compares two variants or more: choose at least two.", "letters")
    if draft.design == designs.LADDER:
        return designs.ladder(n, draft.letters, draft.fittings)
    if len(draft.letters) > 2:
        raise InputError("An alternation compares two variants; take a ladder for more.", "letters")
    return designs.alternation(n, draft.fittings, draft.returns, draft.letters)


def _series(draft: CardDraft) -> Factor:
    if len(draft.factors) != 1 or len(draft.factors[0].levels) < 2:
        raise InputError("A series has one factor with its settings, one a line, two or more.", "factor_1")
    return draft.factors[0]


def save_card(work: UnitOfWork, application: Application, card: TestCard | None, draft: CardDraft) -> TestCard:
    """Write the test card, or change one without pulls; one with pulls is followed by the next card.

    Sessions that are open and have no pull yet go over to the next card. Raises InputError for a dyno that is not in the library,
    a design that its letters do not make, a boosted engine without a control mode, or a tune that was made for other parts.
    """
    dyno = _check(work, application, draft)
    sets, chosen = sets_for(draft), _variants_for(work, application, draft)
    if card is not None:
        work.lock_row(card)  # a pull may come in just now
    follows = has_pulls(work, card)
    saved = TestCard(application_id=application.id) if card is None or follows else card
    if card is not None and follows:
        saved.follows_id, saved.number = card.id, card.number + 1
    for name in SAME_NAMES:
        setattr(saved, name, getattr(draft, name))
    own = dict(zip(designs.letters(len(chosen)), (v.letter for v in chosen), strict=True)) if draft.factors else {}
    saved.dyno_id, saved.dyno = dyno.id, dyno
    saved.sets = [[own.get(s.letter, s.letter), s.pulls] for s in sets]
    saved.factors = [{"name": f.name, "minutes": f.minutes, "levels": list(f.levels)} for f in draft.factors]
    saved.brings = [list(pair) for pair in draft.brings]
    saved.checklist = list(checklist_for(work, application.product.family))
    work.add(saved)
    work.flush()
    _put_variants(work, saved, chosen, draft)
    _put_pairs(work, application, saved)
    if card is not None and follows:
        _hand_over(work, card, saved)
    return saved


SAME_NAMES = (
    "held",
    "also_changed",
    "pulls_per_set",
    "effect_wanted",
    "no_matter",
    "design",
    "tune_mode",
    "control_mode",
    "mixture_target",
    "mixture_tolerance",
    "limits",
    "window",
    "times",
    "consumables",
)
"""What a draft and a card call the same."""


def _check(work: UnitOfWork, application: Application, draft: CardDraft) -> Dyno:
    """The dyno of a draft, whose modes and limits fit the engine."""
    dyno = work.get(Dyno, draft.dyno_id)
    if dyno is None:
        raise InputError("There is no such dyno.", "dyno_id")
    if application.vehicle.induction in BOOSTED and not draft.control_mode:
        raise InputError("Say first how boost is held: it decides what can be claimed.", "control_mode")
    if trouble := conditions.limit_trouble(draft.limits, sensor_ceiling(work, draft.limits)):
        raise InputError(trouble, "limit_boost")
    for number, factor in enumerate(draft.factors, start=1):
        _check_steps(factor, number, draft.limits)
    return dyno


def _check_steps(factor: Factor, number: int, limits: dict[str, Any]) -> None:
    """The steps of a controller that say which boost they expect: none under its spring, none beyond the stop."""
    field = f"levels_{number}"
    try:
        expected = conditions.expected_pressures(
            factor.levels, lambda text: units.parse(text, "pressure", "metric").value
        )
    except InputError as error:
        raise InputError(f"After “=” stands the boost expected: {error.message}", field) from None
    if trouble := conditions.step_trouble(expected, limits.get("spring"), limits.get("boost")):
        raise InputError(trouble, field)


def _hand_over(work: UnitOfWork, card: TestCard, following: TestCard) -> None:
    """Sessions that are open and have no pull yet go over to the card that follows."""
    empty = ~exists().where(Pull.session_id == DynoSession.id)
    for session in work.scalars(select(DynoSession).where(DynoSession.card_id == card.id, empty)):
        session.card_id, session.card = following.id, following
    work.flush()


def _variants_for(work: UnitOfWork, application: Application, draft: CardDraft) -> list[Variant]:
    if draft.design in (designs.FACTORIAL, designs.SERIES):
        factors = draft.factors if draft.design == designs.FACTORIAL else (_series(draft),)
        chosen = factor_variants(work, application, factors, draft.letters[0] if draft.letters else "A")
    else:
        by_letter = {v.letter: v for v in variants_of(work, application.id)}
        missing = [letter for letter in draft.letters if letter not in by_letter]
        if missing:
            raise InputError(f"There is no variant {', '.join(missing)} in this application.", "letters")
        chosen = [by_letter[letter] for letter in dict.fromkeys(draft.letters)]
    for variant in chosen:
        if trouble := tune_trouble(variant, build_of(work, variant)):
            raise InputError(trouble, "letters")
    return chosen


def _put_variants(work: UnitOfWork, card: TestCard, chosen: Sequence[Variant], draft: CardDraft) -> None:
    cells: list[tuple[int, ...]] = [()] * len(chosen)
    if draft.design == designs.FACTORIAL:
        cells = list(designs.cells_of(draft.factors).values())
    elif draft.design == designs.SERIES:
        cells = [(setting,) for setting in range(len(chosen))]
    work.execute(delete(CardVariant).where(CardVariant.card_id == card.id))
    for cell, variant in zip(cells, chosen, strict=True):
        row = CardVariant(card_id=card.id, variant_id=variant.id, letter=variant.letter, called=variant.title)
        row.levels, row.variant = list(cell), variant
        work.add(row)
    work.flush()
    work.expire(card, ["variants"])


def _put_pairs(work: UnitOfWork, application: Application, card: TestCard) -> None:
    """The applications a card serves: its own, and those on the same vehicle whose product and stock part are both on it."""
    work.execute(delete(CardPair).where(CardPair.card_id == card.id))
    on_it = work.scalars(select(Application).where(Application.vehicle_id == application.vehicle_id)).all()
    for dossier in sorted(on_it, key=lambda a: (a.id != application.id, a.id)):
        pair = _pair(card, dossier)
        if pair is None and dossier.id == application.id:
            pair = (card.variants[0].letter, "")  # settings or states of one part: no evidence for it
        if pair is not None:
            work.add(CardPair(card_id=card.id, application_id=dossier.id, a=pair[0], b=pair[1]))
    work.flush()
    work.expire(card, ["pairs"])


def _pair(card: TestCard, dossier: Application) -> tuple[str, str] | None:
    """The letters that hold a dossier's stock part and its product and the same parts beside them; of several the pair that differs
    least in name, setting and tune."""
    stock, product = dossier.stock_revision_id, dossier.revision_id
    found: list[tuple[int, str, str]] = []
    for one in card.variants:
        for other in card.variants:
            parts, others = ({p.revision_id for p in row.variant.parts} for row in (one, other))
            if stock in parts and product in others and parts - {stock} == others - {product}:
                found.append((_unlike(one.variant, other.variant), one.letter, other.letter))
    if not found:
        return None
    _, a, b = min(found, key=lambda pair: pair[0])
    return a, b


def _unlike(one: Variant, other: Variant) -> int:
    """In how many of name, setting and tune two variants differ."""
    return (one.name != other.name) + (one.control_mode != other.control_mode) + (one.tune_id != other.tune_id)


def sensor_ceiling(db: Session, limits: dict[str, Any]) -> float | None:
    """Boost [Pa] at which the sensor that a card names is at its end; None where none is named."""
    sensor = db.get(Sensor, limits["sensor_id"]) if limits.get("sensor_id") else None
    if sensor is None:
        return None
    return conditions.ceiling(sensor.high, sensor.is_absolute, float(limits.get("station", 101325.0)))


def checklist_for(db: Session, family: str) -> tuple[str, ...]:
    """The lines that the house ticks before such a part is tested: those for every part, then those of the family."""
    kept = {c.family: c.lines for c in db.scalars(select(Checklist).where(Checklist.family.in_(("every", family))))}
    lines = [
        *kept.get("every", conditions.CHECKLISTS["every"]),
        *kept.get(family, conditions.CHECKLISTS.get(family, ())),
    ]
    return tuple(dict.fromkeys(lines))


def ticks_of(db: Session, card: TestCard) -> dict[str, CardTick]:
    """Ticked lines of a card."""
    return {tick.line: tick for tick in db.scalars(select(CardTick).where(CardTick.card_id == card.id))}


def tick(work: UnitOfWork, card: TestCard, line: str, note: str = "") -> None:
    """Tick a line of a card's checklist, once. Raises InputError for a line that is not on it or was ticked."""
    if line not in card.checklist:
        raise InputError("This line is not on the card's list.", "line")
    work.lock_row(card)
    if line in ticks_of(work, card):
        raise InputError("Somebody ticked this line already.", "line")
    row = CardTick(card_id=card.id, line=line, note=note.strip(), taken_by_id=work.actor.id)
    row.taken_by = work.actor
    work.add(row)
    work.flush()
