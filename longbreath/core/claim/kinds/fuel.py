"""Fuel: what a trial with controls shows of consumption, and the money that a buyer would see, once both are stated."""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.core.basis import units
from longbreath.core.claim.facts import GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN, PLACE, Fact, Setting
from longbreath.core.claim.kinds.kind import ClaimKind, Quantity, on_the_vehicle, plain
from longbreath.core.weigh.fuel import FuelTrial, Worth

ON_THE_ROAD = "fuel consumption on the road"
A_YEAR = "fuel money a year"


@dataclass(frozen=True)
class Miles:
    """What money is reckoned on: distance a year [m], price of a unit of fuel in the money of the house, that unit's symbol."""

    distance: float
    price: float
    sold_by: str
    money: str

    @property
    def words(self) -> str:
        """As a statement must say it."""
        drive = (
            f"{units.show(self.distance, 'distance', 'us')} ({units.show(self.distance, 'distance', 'metric')}) a year"
        )
        return (
            f"Money is reckoned for {drive} at {self.price:.2f} {self.money} a {self.sold_by}; the band is the trial’s."
        )


def facts_of(trial: FuelTrial, worth: Worth | None = None) -> tuple[Fact, ...]:
    """What a trial holds. The interval is printed as wide as its wider side. Money is a fact only where a saving is proven."""
    kind = trial.verdict if trial.verdict in (GAIN, LOSS, NO_DIFFERENCE) else NOT_PROVEN
    half = max(trial.share - trial.low, trial.high - trial.share)
    found = [Fact(kind, "fuel", PLACE, 0.0, 0.0, trial.share, half, ON_THE_ROAD, required=kind == LOSS)]
    if worth is not None and worth.money is not None and kind in (GAIN, LOSS):
        value, low, high = worth.money
        half = max(value - low, high - value)
        found.append(Fact(kind, "money", PLACE, 0.0, 0.0, -value, half, A_YEAR, required=kind == LOSS, usual=False))
    return tuple(found)


WORDINGS = {
    GAIN: ("used {size} less fuel", "took {size} off {what}"),
    LOSS: ("used {size} more fuel", "added {size} to {what}"),
    NO_DIFFERENCE: ("made no meaningful difference in {what}",),
    NOT_PROVEN: ("showed no proven difference in {what}", "left a difference in {what} unproven"),
}
MONEY = {GAIN: ("took {size} off {what}",), LOSS: ("added {size} to {what}",)}


def _measured(setting: Setting) -> str:
    return "A trial against vehicles that stayed as they were; other drivers, loads and roads can differ."


KIND = ClaimKind(
    "fuel",
    "Fuel economy",
    "A trial with controls: vehicles with the part and without, each before and after, drivers and routes as recorded.",
    (
        "fuel out of airflow, torque or a dyno’s figure",
        "money without the miles, the price and the band it comes from",
        "a saving of a trial that could not have proven it",
    ),
    (
        Quantity("fuel", "percent", WORDINGS, plain, less_is_better=True),
        Quantity("money", "money", MONEY, plain, less_is_better=True),
    ),
    on_the_vehicle,
    _measured,
)
