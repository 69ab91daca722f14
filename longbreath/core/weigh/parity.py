"""Kits at parity: what the same usable state costs with each, what a proven gain costs, and the value winner beside the peak
winner."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from longbreath.core.basis.errors import InputError
from longbreath.core.compare import compare
from longbreath.core.weigh.several import Ranked

ONE_DATE = 31
"""Prices that are asked within so many days of each other stand beside each other. Common practice, no source."""


@dataclass(frozen=True)
class Item:
    """One thing of a kit: what, whether it is in the box, its retail price where the buyer must add it."""

    what: str
    in_box: bool
    price: float | None = None


@dataclass(frozen=True)
class Kit:
    """A part as a buyer meets it: letter, name, retail and vendor price with the day, what is in the box and what must be added,
    minutes to fit and of each service, availability, approval, model years that it fits alike."""

    letter: str
    name: str
    price: float | None
    price_on: date | None
    items: tuple[Item, ...] = ()
    vendor: float | None = None
    fit_minutes: float | None = None
    service_minutes: float | None = None
    available: str = ""
    approval: str = ""
    years: str = ""
    limits: tuple[tuple[str, str], ...] = ()

    @property
    def missing(self) -> tuple[str, ...]:
        """What is not known of its cost, in words."""
        found = ["its price"] if self.price is None else []
        found += [f"the price of {item.what}" for item in self.items if not item.in_box and item.price is None]
        return tuple(found)


@dataclass(frozen=True)
class Cost:
    """What the same usable state costs with a kit: the part, what must be added, the hours of fitting; None where a price is
    missing."""

    kit: Kit
    part: float | None
    added: float | None
    fitting: float | None
    total: float | None


def cost_of(kit: Kit, hourly: float | None) -> Cost:
    """Retail with retail: the part and everything the buyer must add, and fitting at an hourly price where both are known."""
    added = (
        None
        if any(i.price is None for i in kit.items if not i.in_box)
        else sum((i.price or 0.0) for i in kit.items if not i.in_box)
    )
    fitting = kit.fit_minutes / 60.0 * hourly if kit.fit_minutes is not None and hourly is not None else None
    total = None if kit.price is None or added is None else kit.price + added + (fitting or 0.0)
    return Cost(kit, kit.price, added, fitting, total)


@dataclass(frozen=True)
class PriceRow:
    """A kit in the table: its cost, difference to stock of the score with half width and verdict, price per unit of a proven gain."""

    cost: Cost
    value: float
    half_width: float
    verdict: str
    per_unit: float | None


@dataclass(frozen=True)
class Parity:
    """Kits beside each other: rows (best value first), the value winner and the peak winner by letter, sentences."""

    rows: tuple[PriceRow, ...]
    value_winner: str
    peak_winner: str
    sentences: tuple[str, ...]


def weigh_kits(
    kits: Sequence[Kit], ranked: Ranked, stock: str, peaks: Mapping[str, float], hourly: float | None
) -> Parity:
    """Lay kits beside each other by a score that `ranked` holds for all of them and the stock part.

    peaks: peak power by letter [W]. A price per unit of gain stands only where the gain is proven; of kits that cannot be told
    apart the cheaper wins. Raises InputError without kits, or for one that was not weighed.
    """
    if not kits:
        raise InputError("Write down first what is in the box of each kit, and what it costs.", "kits")
    known = {letter for letter, _ in ranked.means}
    lost = [kit.name for kit in kits if kit.letter not in known]
    if lost or stock not in known:
        raise InputError(f"Not weighed here: {', '.join(lost) or 'the stock part'}.", "kits")
    rows = []
    for kit in kits:
        found = ranked.pair(stock, kit.letter)
        cost = cost_of(kit, hourly)
        gained = found.verdict == compare.GAIN and found.effect.value > 0
        per = cost.total / found.effect.value if gained and cost.total is not None else None
        rows.append(PriceRow(cost, found.effect.value, found.effect.half_width, found.verdict, per))
    value, sentences = _value_winner(rows, ranked)
    peak = max((k.letter for k in kits), key=lambda letter: peaks.get(letter, float("-inf")))
    rows.sort(key=lambda r: (r.cost.kit.letter != value, r.cost.total is None, r.cost.total or 0.0))
    return Parity(tuple(rows), value, peak, (*sentences, *_about(kits)))


def _value_winner(rows: Sequence[PriceRow], ranked: Ranked) -> tuple[str, list[str]]:
    """The kit to buy, and why: of those that cannot be told from the best, the cheapest with known cost."""
    best = max(rows, key=lambda r: r.value)
    alike = [r for r in rows if r is best or not ranked.pair(best.cost.kit.letter, r.cost.kit.letter).is_told_apart]
    priced = [r for r in alike if r.cost.total is not None]
    unpriced = [r.cost.kit.name for r in alike if r.cost.total is None]
    if not priced:
        return "", ["No value winner: the cost of the same usable state is not known."]
    winner = min(priced, key=lambda r: r.cost.total or 0.0)
    names = ", ".join(r.cost.kit.name for r in alike)
    told = f"{winner.cost.kit.name} is told apart from the others, and gives most."
    said = [f"{names} cannot be told apart: the cheaper wins, {winner.cost.kit.name}." if len(alike) > 1 else told]
    said += [
        f"{r.cost.kit.name} gives less, at less for each unit of gain." for r in rows if _is_cheaper(r, winner, alike)
    ]
    if unpriced:
        said.append(f"Left out, because a price is missing: {', '.join(unpriced)}.")
    if all(r.verdict != compare.GAIN for r in rows):
        said.append("None of them is proven to be better than stock: the money buys no proven gain.")
    return winner.cost.kit.letter, said


def _is_cheaper(row: PriceRow, winner: PriceRow, alike: Sequence[PriceRow]) -> bool:
    """Whether a kit that gives less costs less for each unit of a proven gain."""
    if row in alike or row.per_unit is None or winner.per_unit is None:
        return False
    return row.per_unit < winner.per_unit


def _about(kits: Sequence[Kit]) -> list[str]:
    days = [kit.price_on for kit in kits if kit.price_on is not None]
    found = []
    if days and (max(days) - min(days)).days > ONE_DATE:
        found.append(f"The prices are of days up to {(max(days) - min(days)).days} apart: ask them anew on one day.")
    for kit in kits:
        found += [f"{kit.name}: {', '.join(kit.missing)} not known."] if kit.missing else []
    return found


def payback(cost: float, saved_a_year: float) -> float | None:
    """Years [a] until a cost is earned back; None where nothing is saved. Source: cost / saving."""
    return cost / saved_a_year if saved_a_year > 0 else None
