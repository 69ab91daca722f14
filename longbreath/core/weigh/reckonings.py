"""Reckonings of money and fuel: what a better mileage saves, and how long a part takes to earn its price."""

from __future__ import annotations

from typing import Annotated

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.quantities import quantity
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.basis.working import Given, Step, reckoned

GROUP = "Fuel and money"
DEFINITION = "First principles: fuel is distance over mileage."
_BEFORE = quantity("mileage", "Mileage before", "18 mpg")
_AFTER = quantity("mileage", "Mileage after", "19 mpg")
_DISTANCE = quantity("distance", "Distance a year", "12000 mi")
_PRICE = quantity("ratio", "Price of a gallon or litre", "3.80", 0.0, 1e4)
_PER = quantity("fuel_volume", "Sold by the", "1 gal")
ILLUSION = (
    "Equal steps of mileage do not save equal fuel: one mile a gallon more saves eight times as much at 10 as at 30.",
    "Percent more mileage is not percent less fuel.",
)


def _givens(before: float, after: float, distance: float) -> tuple[Given, ...]:
    return (
        Given("m₁", "mileage before", before, "mileage"),
        Given("m₂", "mileage after", after, "mileage"),
        Given("s", "distance a year", distance, "distance"),
    )


@reckoning("Fuel saved by mileage", GROUP, DEFINITION)
def fuel_saved(
    before: Annotated[float, _BEFORE],
    after: Annotated[float, _AFTER],
    distance: Annotated[float, _DISTANCE],
    price: Annotated[float, _PRICE],
    per: Annotated[float, _PER],
) -> Reckoned:
    """What does a better mileage save in a year?"""
    givens = _givens(before, after, distance)
    fuel = Step("V", "s/m₁ − s/m₂", distance / before - distance / after, "fuel_volume")
    money = Step("M", "V·price/unit", fuel.value * price / per, "money")
    less = Step("x", "1 − m₁/m₂", 1.0 - before / after, "percent")
    more = Step("y", "m₂/m₁ − 1", after / before - 1.0, "percent")
    return answered(
        reckoned("fuel", "Fuel saved a year", givens, (fuel,), DEFINITION, ILLUSION, significant=4),
        reckoned("money", "Money saved a year", givens, (fuel, money), DEFINITION, ILLUSION, significant=4),
        reckoned("less_fuel", "Less fuel", givens, (less,), DEFINITION, ILLUSION),
        reckoned("more_mileage", "More mileage", givens, (more,), DEFINITION, ILLUSION),
    )


@reckoning("Time until a part has paid", GROUP, DEFINITION)
def payback_time(
    cost: Annotated[float, quantity("money", "Cost of part and fitting", "480", 0.0, 1e7)],
    before: Annotated[float, _BEFORE],
    after: Annotated[float, _AFTER],
    distance: Annotated[float, _DISTANCE],
    price: Annotated[float, _PRICE],
    per: Annotated[float, _PER],
) -> Reckoned:
    """How long does a part take to earn its price in fuel? Raises InputError where nothing is saved."""
    if after <= before:
        raise InputError("Nothing is saved: the mileage after must be above the one before.", "after")
    givens = (Given("K", "cost", cost, "money"), *_givens(before, after, distance))
    saved = Step("M", "(s/m₁ − s/m₂)·price/unit", (distance / before - distance / after) * price / per, "money")
    years = Step("t", "K/M", cost / saved.value, "ratio")
    far = Step("s_K", "t·s", years.value * distance, "distance")
    return answered(
        reckoned("years", "Years until it has paid", givens, (saved, years), DEFINITION, ILLUSION),
        reckoned("distance_until", "Distance until it has paid", givens, (saved, years, far), DEFINITION, ILLUSION),
    )
