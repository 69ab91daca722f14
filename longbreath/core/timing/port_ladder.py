"""The port ladder: steps of porting for one engine, each value with its provenance grade."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working

GRADES = (
    ("own", "own test"),
    ("supplier", "supplier’s test with data"),
    ("table", "published table"),
    ("hearsay", "hearsay"),
)
"""From what a figure comes, best first."""
RANK = {key: place for place, (key, _) in enumerate(GRADES)}


@dataclass(frozen=True)
class Value:
    """One value of a rung: SI number or words, and its grade."""

    value: float | str
    grade: str

    def __post_init__(self) -> None:
        if self.grade not in RANK:
            raise InputError("Say where this comes from.", "grade")


@dataclass(frozen=True)
class LadderColumn:
    """One column of the ladder: key, label, and the kind of quantity ("" for words)."""

    key: str
    label: str
    kind: str = ""


COLUMNS = (
    LadderColumn("area", "Port area", "area"),
    LadderColumn("opens", "Opens", "angle"),
    LadderColumn("closes", "Closes", "angle"),
    LadderColumn("power", "Peak power", "power"),
    LadderColumn("speed_from", "Pulls from", "speed"),
    LadderColumn("speed_to", "to", "speed"),
    LadderColumn("idle", "Idle", "speed"),
    LadderColumn("fuel", "Fuel"),
    LadderColumn("noise", "Noise"),
    LadderColumn("life", "Life"),
    LadderColumn("cost", "Cost", "ratio"),
    LadderColumn("legality", "Class legality"),
    LadderColumn("needs", "Prerequisites"),
)
BY_KEY = {column.key: column for column in COLUMNS}


@dataclass(frozen=True)
class PortRung:
    """One step of porting: name and values by column key."""

    name: str
    values: Mapping[str, Value]

    def number(self, key: str) -> float | None:
        """A numeric value [SI], or None."""
        found = self.values.get(key)
        return found.value if found is not None and isinstance(found.value, float) else None

    @property
    def backs_a_claim(self) -> bool:
        """Whether its power comes from an own test: nothing else can back a claim."""
        power = self.values.get("power")
        return power is not None and power.grade == "own"


def gains(rungs: Sequence[PortRung]) -> dict[str, Figure]:
    """Power of each rung over the first, and money per unit of power gained, keyed “gain-1”, “price-1” by place."""
    found: dict[str, Figure] = {}
    base = rungs[0].number("power") if rungs else None
    for place, rung in enumerate(rungs):
        power, cost = rung.number("power"), rung.number("cost")
        if place == 0 or base is None or power is None:
            continue
        grades = dict(GRADES)
        origin = (grades[rungs[0].values["power"].grade], grades[rung.values["power"].grade])
        givens = (
            Given("P_0", rungs[0].name, base, "power", origin[0]),
            Given("P", rung.name, power, "power", origin[1]),
        )
        note = () if rung.backs_a_claim else ("Not from an own test: it informs, it cannot back a claim.",)
        share = Step("g", "P/P_0 − 1", power / base - 1.0, "percent")
        working = Working("Gain over the first rung", givens, (share,), "Definition.", note)
        label = f"{rung.name}, over {rungs[0].name}"
        found[f"gain-{place}"] = Figure("gain", label, share.value, "percent", working, signed=True, significant=2)
        if cost is not None and power > base:
            price = cost / ((power - base) / 1000.0)
            paid = (*givens, Given("C", "cost", cost, "ratio"))
            step = Step("c", "C/(P − P_0), kW", price, "ratio")
            working = Working("Cost per kW gained", paid, (step,), "Definition.", note)
            found[f"price-{place}"] = Figure(
                "price", f"{rung.name}, cost per kW", price, "ratio", working, significant=2
            )
    return found
