"""Airflow: what was seen of a bench session, as plain data, and what its traces of A and of B hold."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from typing import Literal

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.bench import fixture, reduction
from longbreath.core.bench.fixture import BenchFixture
from longbreath.core.bench.meter import MeterReading
from longbreath.core.bench.plates import found_off, plate_state
from longbreath.core.bench.reduction import Noise, noise_of_repeats
from longbreath.core.case.seen import Part
from longbreath.core.case.statement import Grounded, Printed, Statement, long_day
from longbreath.core.claim import stating
from longbreath.core.claim.kinds.airflow import LiftGain, Pair


@dataclass(frozen=True)
class Reading:
    """One reading: its lift [m], what the meter showed, who took it, and the reasons of marks that take it out."""

    lift: float
    told: MeterReading
    by: str
    marks: tuple[str, ...] = ()

    @property
    def counts(self) -> bool:
        """Whether no mark takes it out."""
        return not self.marks


@dataclass(frozen=True)
class Trace:
    """One part swept over lift, or read as a fixed part: number, label, title, kind, fixture with its words, readings."""

    number: int
    label: str
    title: str
    kind: str
    fixture: BenchFixture
    fixture_words: str
    readings: tuple[Reading, ...]

    def by_lift(self) -> dict[float, list[MeterReading]]:
        """The readings that count, by lift [m]."""
        found: dict[float, list[MeterReading]] = {}
        for reading in sorted((r for r in self.readings if r.counts), key=lambda r: r.lift):
            found.setdefault(round(reading.lift, 7), []).append(reading.told)
        return found


@dataclass(frozen=True)
class PlateCheck:
    """A check of the bench against a plate: number, day, read over known less one, uncertainty of the plate [shares of the flow]."""

    id: int
    held_on: date
    deviation: float
    plate_uncertainty: float


@dataclass(frozen=True)
class Flow:
    """A bench session: part, day, bench with how well it repeats by its card and how often it is checked, test pressure [Pa], leak,
    plate checks, all its traces."""

    part: Part
    number: int
    held_on: date
    bench: str
    test_pressure: float
    leak: MeterReading | None
    repeatability: float
    repeatability_source: str
    check_days: int
    checks: tuple[PlateCheck, ...]
    traces: tuple[Trace, ...]
    of: Literal["flow"] = "flow"

    @property
    def pair(self) -> tuple[Trace, Trace]:
        """The traces of A and of B that it is about: its first sweeps, else its first fixed parts. Raises EvidenceError without."""
        found = []
        for label in ("A", "B"):
            ordered = sorted((t for t in self.traces if t.label == label), key=lambda t: (t.kind != "sweep", t.number))
            found += ordered[:1]
        if len(found) < 2:
            raise EvidenceError("This bench session holds no trace of A and one of B.")
        return found[0], found[1]


def noise_of(flow: Flow) -> Noise:
    """How well the bench repeats and how sure its scale is: its own repeats of the session, else its card."""
    groups = [
        [reduction.reduce_reading(told, flow.test_pressure, flow.leak).value for told in repeats]
        for trace in flow.traces
        for repeats in trace.by_lift().values()
        if len(repeats) > 1
    ]
    sure = plate_state(flow.checks, flow.check_days, flow.held_on).uncertainty
    return noise_of_repeats(groups, sure, flow.repeatability, flow.repeatability_source)


def pair_of(flow: Flow) -> Pair:
    """The two traces as the evidence of one statement. Raises EvidenceError where they are not both there."""
    a, b = flow.pair
    noise, sides = noise_of(flow), (a.by_lift(), b.by_lift())
    lifts = []
    for lift in sorted(set(sides[0]) & set(sides[1])):
        one, other = (reduction.reduce_repeats(side[lift], flow.test_pressure, flow.leak, noise) for side in sides)
        off = any(reduction.is_off_pressure(r.pressure, flow.test_pressure) for side in sides for r in side[lift])
        at = lift if a.kind == "sweep" else None
        lifts.append(LiftGain(at, one.value, reduction.difference(one, other, True), off))
    kinds = () if a.kind == b.kind else ("a sweep over lift against a fixed part",)
    plate = plate_state(flow.checks, flow.check_days, flow.held_on)
    differs = (*kinds, *fixture.differences(a.fixture, b.fixture))
    words, never = a.fixture_words, plate.newest is None
    return Pair(a.title, b.title, words, flow.test_pressure, differs, lifts, plate.overdue, never)


def airflow(flow: Flow) -> Statement:
    """What the two traces hold. Raises EvidenceError where they are not both there."""
    pair, (a, b) = pair_of(flow), flow.pair
    shown = Printed(
        conditions=tuple(_conditions(flow, a, b)),
        records=(
            ("the fixture", pair.fixture),
            ("the bench’s name", flow.bench),
            ("the trace of A", a.title),
            ("the trace of B", b.title),
        ),
    )
    stated = stating.of_flow(pair, flow.part.title, flow.part.stock)
    return Statement(stated, shown, Grounded(bench=pair), flow.held_on)


def _conditions(flow: Flow, a: Trace, b: Trace) -> Iterator[tuple[str, str]]:
    plate = plate_state(flow.checks, flow.check_days, flow.held_on)
    check = f"checked with a plate on {plate.newest.held_on:%d %b %Y}" if plate.newest is not None else "never checked"
    if (later := found_off(flow.checks, flow.held_on)) is not None:
        check += f"; on {later.held_on:%d %b %Y} its scale was found {later.deviation:+.1%} off".replace("-", "−")
    hands = sorted({r.by for t in (a, b) for r in t.readings if r.counts})
    out = [f"{t.label} at {r.lift * 1000:.2f} mm: {r.marks[-1]}" for t in (a, b) for r in t.readings if r.marks]
    column = [units.show(flow.test_pressure, "column", system) for system in ("us", "metric")]
    yield "Measured on", f"{flow.bench}, {check}"
    yield "Date", long_day(flow.held_on)
    yield "Fixture", b.fixture_words
    yield "Test pressure", f"{column[0]} ({column[1]})"
    yield "A", a.title
    yield "B", b.title
    yield "Readings", f"{sum(r.counts for r in a.readings)} of A, {sum(r.counts for r in b.readings)} of B"
    yield "Left out", "; ".join(out) or "no reading"
    yield "Read by", ", ".join(hands)
    yield "Leak", "measured and taken off" if flow.leak is not None else "not recorded"
