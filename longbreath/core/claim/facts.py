"""Facts: what the evidence holds and a statement may be made of. What is no fact cannot be said; a proven loss must be."""

from __future__ import annotations

import re
from dataclasses import asdict, dataclass
from typing import Any

from longbreath.core.basis import units
from longbreath.core.compare import compare
from longbreath.core.compare.bands import Judged, Weighing, local_losses

GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN = compare.GAIN, compare.LOSS, compare.NO_DIFFERENCE, compare.NOT_PROVEN
FOUND = "found"
"""A count or a finding that is no comparison: pulls that were run, places that were looked at."""
BAND, PEAK, LOCAL, LIFT, PART, PLACE = "band", "peak", "local", "lift", "part", "place"
AS_SET, EQUAL_BOOST = "as set", "equal boost"
SCHOOLS = {
    AS_SET: "as set: the controller left alone, the part keeps the boost it finds",
    EQUAL_BOOST: "at equal boost: both brought to one manifold pressure",
}
"""The schools of a boosted comparison: a statement on a boosted engine says which of them it quotes."""
BOOSTED = (
    "This engine is boosted: a gain at the same controller setting can be the boost that rose. Choose whether the statement "
    "quotes the comparison as set or at equal boost; until then no gain is stated."
)

SMALL = "This gain is proven, and below what was said to matter before the test (1 % of A if nothing was said). It is not stated."


@dataclass(frozen=True)
class Fact:
    """One finding: `kind` is the verdict (a gain is what a buyer wishes for), `quantity` one of the register, `scope` what it is of.

    low and high: bounds of a band [rad/s], both the speed of a local figure [rad/s] or the lift of a flow [m]; value, B − A, with
    the half width of its 95 % interval [SI]; of a count the count and nought. `required`: a statement that leaves it out is made
    to say it. `blocked`: why it may not be said. `usual`: it stands in a first draft.
    """

    kind: str
    quantity: str
    scope: str
    low: float
    high: float
    value: float
    half_width: float
    name: str = ""
    required: bool = False
    usual: bool = True
    blocked: str = ""

    @property
    def key(self) -> str:
        """Identifies the fact among those of its evidence: what it is of, not how large it is."""
        words = f"{self.kind} {self.quantity} {self.scope} {self.name}".casefold()
        return re.sub(r"[^\w.]+", "-", words).strip("-")

    @property
    def about(self) -> str:
        """What it is of, in words: a band, a lift, a place."""
        return f"{units.show(self.low, 'length', 'metric')} of lift" if self.scope == LIFT else self.name or self.scope

    @property
    def called(self) -> str:
        """The fact in a few words, its value apart."""
        return f"{self.kind}: {self.about}, {self.quantity.replace('_', ' ')}"

    def to_dict(self) -> dict[str, Any]:
        """The record that a sheet keeps."""
        return {"key": self.key, **asdict(self)}


@dataclass(frozen=True)
class Setting:
    """What all facts of a statement share: the part, against what, on what, measured how.

    at: "wheel" or "crank". days: sessions that are joined. standard: empty where nothing was corrected. package: what else differed
    beside the part; margin: what counted as no difference [share of A]. Airflow has fixture and test pressure [Pa] instead. kind: of
    the statement; school: of a boosted comparison; told: sentences that must stand beside the facts (boost,
    tools, probes, what the evidence does not say).
    """

    part: str
    against: str
    vehicle: str = ""
    at: str = ""
    standard: str = ""
    one_session: bool = False
    days: int = 1
    back_to_back: bool = False
    margin: float = 0.01
    package: tuple[str, ...] = ()
    fixture: str = ""
    test_pressure: float = 0.0
    kind: str = "torque"
    school: str = ""
    told: tuple[str, ...] = ()


ORDER = (GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN, FOUND)


def facts_of(weighing: Weighing, boosted: bool = False) -> tuple[Fact, ...]:
    """Everything a weighing holds that a statement may say, gains first, then losses, then what made no difference.

    boosted: the engine is, and no school was chosen: its gains are blocked. Peaks are offered and not usual; a proven loss at one
    speed inside a band that shows none is a fact of its own."""
    found = [_of(item, boosted) for item in weighing.judged]
    for band, local in local_losses(weighing):
        found.append(
            Fact(
                LOSS,
                "torque",
                LOCAL,
                local.speed,
                local.speed,
                local.difference,
                local.half_width,
                band.name,
                required=True,
            )
        )
    return tuple(sorted(found, key=lambda fact: (ORDER.index(fact.kind), fact.scope != BAND)))


def _of(item: Judged, boosted: bool) -> Fact:
    gain, band = item.verdict == GAIN, item.band
    blocked = BOOSTED if gain and boosted else SMALL if gain and item.is_small else ""
    return Fact(
        item.verdict if item.verdict in ORDER else NOT_PROVEN,  # with drift in it, nothing is proven
        item.kind,
        BAND if band else PEAK,
        band.low if band else 0.0,
        band.high if band else 0.0,
        item.effect.value,
        item.effect.half_width,
        band.name if band else "",
        required=item.verdict == LOSS,
        usual=(band is not None or item.verdict == LOSS) and not blocked,
        blocked=blocked,
    )
