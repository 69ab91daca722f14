"""Test cards: what is compared, what a pull of it is held to, how small a gain it can prove."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import exists, select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.dyno import planning, pulls
from longbreath.dossier.commands import put
from longbreath.dossier.conditions import engine_of
from longbreath.store.models import Application, Dyno, DynoSession, Pull, TestCard, Vehicle
from longbreath.store.unit_of_work import UnitOfWork


def card_of(db: Session, application_id: int) -> TestCard | None:
    """The application's newest test card."""
    query = select(TestCard).where(TestCard.application_id == application_id).order_by(TestCard.id.desc()).limit(1)
    return db.scalar(query)


def rules_of(card: TestCard, vehicle: Vehicle) -> pulls.PullRules:
    """What a pull of this card is held to."""
    return pulls.PullRules(vehicle.band_low, vehicle.band_end, card.mixture_target, card.mixture_tolerance)


SET_SIZES = tuple(range(2, 9))


def in_all(set_size: int) -> int:
    """Pulls of a whole A-B-A card with that many in each set."""
    return 3 * set_size


def dynos(db: Session) -> list[Dyno]:
    """All dynos by name."""
    return list(db.scalars(select(Dyno).order_by(Dyno.name)))


def provable(dyno: Dyno, application: Application) -> dict[str, Figure]:
    """Smallest provable gain for each size of set, keyed "provable-3"."""
    origin, vehicle = f"{dyno.name}: {dyno.repeatability_source}", application.vehicle
    level = planning.usual_torque(engine_of(vehicle).displacement, vehicle.cycle)
    of_level = "usual for this displacement; the margin is made of it"
    return {f"provable-{n}": planning.provable(dyno.repeatability, n, level, origin, of_level) for n in SET_SIZES}


def set_size_for(figures: dict[str, Figure], effect: float) -> int | None:
    """Smallest set that proves an effect [N m], or None if even the largest does not."""
    return next((n for n in SET_SIZES if figures[f"provable-{n}"].value <= effect), None)


@dataclass(frozen=True)
class CardDraft:
    """What a test card says: what is compared, what is held, what else differs, pulls in each set, the effect wanted [N m],
    and the mixture asked for [lambda]."""

    dyno_id: int
    a_is: str
    b_is: str
    held: str
    also_changed: str
    pulls_per_set: int
    effect_wanted: float
    mixture_target: float | None = None
    mixture_tolerance: float = 0.03


def has_pulls(db: Session, card: TestCard | None) -> bool:
    """Whether pulls were taken under a card: it then stays as it was, and what is written next makes the next card."""
    if card is None:
        return False
    taken = select(Pull.id).join(DynoSession, DynoSession.id == Pull.session_id).where(DynoSession.card_id == card.id)
    return bool(db.scalar(select(exists(taken))))


def save_card(work: UnitOfWork, application: Application, card: TestCard | None, draft: CardDraft) -> TestCard:
    """Write the test card, or change one without pulls; one with pulls is followed by the next card.

    Sessions that are open and have no pull yet go over to the next card. Raises InputError for a dyno that is not in the
    library.
    """
    dyno = work.get(Dyno, draft.dyno_id)
    if dyno is None:
        raise InputError("There is no such dyno.", "dyno_id")
    follows = has_pulls(work, card)
    saved = TestCard(application_id=application.id) if card is None or follows else card
    put(saved, draft)
    saved.dyno = dyno
    work.add(saved)
    work.flush()
    if card is not None and follows:
        empty = ~exists().where(Pull.session_id == DynoSession.id)
        for session in work.scalars(select(DynoSession).where(DynoSession.card_id == card.id, empty)):
            session.card_id, session.card = saved.id, saved
        work.flush()
    return saved
