"""A gate, what it looks at, and the grounds that are gathered for all of them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from longbreath.core.build.sheet import Differing
from longbreath.core.claim.facts import Fact
from longbreath.core.claim.kinds.airflow import Pair
from longbreath.core.claim.kinds.fuel import Miles
from longbreath.core.claim.road import Road
from longbreath.core.compare.bands import Weighing

Look = tuple[bool, str]
"""Whether a gate is met, and the evidence in a sentence."""


@dataclass(frozen=True)
class Gate:
    """One condition of a claim: whether it is met, the evidence in a sentence, what would meet it, and which page that is done on."""

    key: str
    name: str
    met: bool
    evidence: str
    meet: str = ""
    where: str = ""


@dataclass(frozen=True)
class OnDyno:
    """What the gates of pulls look at.

    sides: how A's and B's build sheets name the vehicle ("" where they do not), None
    where there is no sheet; parts: lines of the part on the sheets of A and B; judgement: of the two sheets, with its reason;
    outside_standard: sentences on each range of the correction standard that the air leaves; boosted: whether the engine breathes
    under boost; pressure: what is known of manifold pressure in words, "" if nothing; doubts: findings on the engine that put pulls in
    doubt; closed: whether the effect of everything that differed is known; net: whether the statement is of the net; lapsed: what is
    past its calibration; sets: how what comes from set to set is counted, "" where it is not; alone:
    pulls that take part, or do not, on one person’s word, where the statement does not hold either way by itself; unrecorded:
    files whose pulls nobody recorded.
    """

    weighing: Weighing
    sides: tuple[str | None, str | None]
    differing: tuple[Differing, ...]
    outside_standard: tuple[str, ...] = ()
    boosted: bool = False
    school: str = ""
    pressure: str = ""
    doubts: tuple[str, ...] = ()
    closed: bool = False
    net: bool = False
    judgement: tuple[str, str] = ("comparable", "")
    parts: tuple[Mapping[str, str], Mapping[str, str]] = field(default_factory=lambda: ({}, {}))
    lapsed: tuple[str, ...] = ()
    sets: str = "in the interval"
    control: str = ""
    alone: tuple[str, ...] = ()
    unrecorded: tuple[str, ...] = ()


@dataclass(frozen=True)
class OnTool:
    """What the gates of readings look at: kind, tool, its step [SI], conditions asked for with what was written, why it shows nothing,
    whether money is to be said, and on what."""

    kind: str
    tool: str
    step: float
    conditions: tuple[tuple[str, str], ...]
    problem: str = ""
    miles: Miles | None = None


@dataclass(frozen=True)
class OnLooks:
    """What the gates of looks and runs look at: how many places or pulls, labels of B alone, findings that stand against it."""

    counted: int
    least: int
    what: str
    findings: tuple[str, ...] = ()


@dataclass(frozen=True)
class Grounds:
    """What the gates look at, gathered from the one evidence and the draft.

    said: facts of the statement, required: keys of those that must be among them; drafted_on, evidence: keys of the evidence the facts
    were chosen on and of the one that stands; records: places and texts of what people wrote and a sheet prints; notes: what is
    written of the part as sold, by what it is about; age: how old the evidence is and how old the house lets it be [days];
    foreign: what
    of it is not of an own test; outside: figures of others beside it, which back nothing; costs: proven losses of other kinds
    that the sheet shows besides, and unweighed: kinds of which there are readings that cannot be weighed.
    """

    kind: str
    said: tuple[Fact, ...]
    drafted_on: str
    evidence: str
    records: tuple[tuple[str, str], ...]
    road: Road
    required: frozenset[str] = frozenset()
    state_sold: str = ""
    notes: Mapping[str, str] = field(default_factory=dict)
    age: tuple[int, int] = (0, 10**6)
    foreign: tuple[str, ...] = ()
    outside: tuple[str, ...] = ()
    costs: tuple[str, ...] = ()
    unweighed: tuple[str, ...] = ()
    dyno: OnDyno | None = None
    bench: Pair | None = None
    tool: OnTool | None = None
    looks: OnLooks | None = None

    @property
    def on_dyno(self) -> OnDyno:
        """What pulls hold; asked for by their gates alone."""
        assert self.dyno is not None
        return self.dyno

    @property
    def on_bench(self) -> Pair:
        """What traces hold; asked for by their gates alone."""
        assert self.bench is not None
        return self.bench


@dataclass(frozen=True)
class Rule:
    """One row of the table of gates: key, name, kinds of statement it holds for (none: all), what would meet it, where, the look."""

    key: str
    name: str
    kinds: tuple[str, ...]
    meet: str
    where: str
    look: Callable[[Grounds], Look]

    def gate(self, grounds: Grounds) -> Gate:
        """The gate on these grounds; what would meet it is said only while it fails."""
        met, evidence = self.look(grounds)
        return Gate(self.key, self.name, met, evidence, "" if met else self.meet, "" if met else self.where)
