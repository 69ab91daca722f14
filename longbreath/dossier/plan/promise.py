"""What a card promises: the smallest gain it can prove in each band, for more or fewer pulls, and what another fitting would buy."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.compare import planning
from longbreath.core.compare.scatter import Scatter
from longbreath.core.plan import designs
from longbreath.core.plan.designs import PullSet, order_of
from longbreath.dossier.conditions import bands_of, engine_of
from longbreath.dossier.records.cards import sets_of
from longbreath.dossier.records.scatter import scatter_of
from longbreath.store.models import Application, Dyno, TestCard

SET_SIZES = tuple(range(2, 9))
OF_LEVEL = "usual for this displacement; the margin is made of it"


@dataclass(frozen=True)
class Promise:
    """Figures by key: "provable-N" for N pulls a set, "band-NAME" for the card as it stands; and what could be bought.

    too_good: smallest gain [N m] if sets scattered as pulls do, where the scatter from set to set is not known.
    counts_sets: whether the interval will hold the scatter from set to set, without which nothing may be claimed.
    """

    figures: dict[str, Figure]
    sets: tuple[PullSet, ...]
    pair: tuple[str, str]
    scatter: Scatter
    sizes: tuple[int, ...]
    bought: tuple[tuple[str, int, Figure], ...] = ()
    too_good: float | None = None
    counts_sets: bool = True

    def enough(self, effect: float) -> int | None:
        """Smallest set that proves an effect [N m], or None if even the largest does not."""
        return next((n for n in self.sizes if self.figures[f"provable-{n}"].value <= effect), None)

    @property
    def is_too_good(self) -> bool:
        """Whether the promise would be another by one part in fifty and more if sets scattered as pulls do."""
        now = max((f.value for key, f in self.figures.items() if key.startswith("band-")), default=0.0)
        return self.too_good is not None and self.too_good > 1.02 * now

    def in_all(self, size: int) -> int:
        """Pulls of the whole card with that many in each set."""
        return size * len(self.sets)


def level_of(application: Application) -> float:
    """Torque [N m] that the vehicle's engine usually has."""
    vehicle = application.vehicle
    return planning.usual_torque(engine_of(vehicle).displacement, vehicle.cycle)


def sized(sets: Sequence[PullSet], pulls: int) -> tuple[PullSet, ...]:
    """The same sets with that many pulls each."""
    return tuple(PullSet(s.letter, pulls) for s in sets)


def provable(
    scatter: Scatter, sets: Sequence[PullSet], level: float, pair: tuple[str, str], band: str = "", margin: float = 0.01
) -> Figure | None:
    """Smallest gain by these sets; None where they do not hold two pulls of either."""
    try:
        return planning.provable(scatter, order_of(sets), level, OF_LEVEL, pair, band, margin)
    except InputError:
        return None


def promise_of(db: Session, application: Application, dyno: Dyno, card: TestCard | None, day: date) -> Promise:
    """What a card promises on its dyno by the scatter of a day; without a card, what A-B-A with three pulls a set does."""
    sets = sets_of(card) if card is not None else designs.alternation(3, 1)
    pair = card.planned_pair(application.id) if card is not None else ("A", "B")
    scatter, level = scatter_of(db, dyno, day), level_of(application)
    margin = card.no_matter if card is not None else 0.01
    figures: dict[str, Figure] = {}
    for n in SET_SIZES:
        figures[f"provable-{n}"] = planning.provable(
            scatter, order_of(sized(sets, n)), level, OF_LEVEL, pair, "", margin
        )
    for band in bands_of(application.vehicle):
        figures[f"band-{band.name}"] = planning.provable(
            scatter, order_of(sets), level, OF_LEVEL, pair, band.name, margin
        )
    too_good = (
        planning.promise_without(scatter, order_of(sets), level, pair, margin) if scatter.fitting is None else None
    )
    bought = tuple(
        (what, pulls, figure)
        for what, more in _options(sets, pair)
        if (figure := provable(scatter, more, level, pair, "", margin)) is not None
        for pulls in [len(order_of(more)) - len(order_of(sets))]
    )
    figures |= {f"bought-{k}": figure for k, (_, _, figure) in enumerate(bought)}
    counts = planning.counts_sets(scatter, order_of(sets), pair)
    return Promise(figures, sets, pair, scatter, SET_SIZES, bought, too_good, counts)


def _options(sets: Sequence[PullSet], pair: tuple[str, str]) -> tuple[tuple[str, tuple[PullSet, ...]], ...]:
    """What else the card could be: B fitted once more with a return, or three more pulls where B is on already."""
    a, b = pair
    pulls = next(s.pulls for s in sets if s.letter == b)
    again = (*sets, *((PullSet(a, pulls),) if sets[-1].letter == b else ()), PullSet(b, pulls), PullSet(a, pulls))
    where = next(k for k, s in enumerate(sets) if s.letter == b)
    longer = tuple(PullSet(s.letter, s.pulls + 3 * (k == where)) for k, s in enumerate(sets))
    return (f"{b} fitted once more, with a return", again), (f"three more pulls of {b} as it is fitted", longer)
