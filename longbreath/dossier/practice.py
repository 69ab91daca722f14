"""Practice at the cell and at the bench: a made fault drawn by seed, judged by the learner first; nothing of it touches evidence."""

from __future__ import annotations

import random
from collections.abc import Mapping
from dataclasses import dataclass, replace

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import Conflict, InputError
from longbreath.core.basis.units import from_unit
from longbreath.core.bench.settle import Moment, Problem, Settled, SettleRules, judge_window
from longbreath.core.judge.check import Check, Earlier, OtherPulls, PullRules, log_facts
from longbreath.core.judge.pull import checks_of, first_of, is_valid
from longbreath.core.pull.pulls import Sweep, make_sweep
from longbreath.devices.made_engine import Channels
from longbreath.devices.made_si import in_si
from longbreath.devices.standin_bench import RANGES, SimulatedBench
from longbreath.devices.standin_cell import SimulatedCell
from longbreath.store.models import PracticeRound
from longbreath.store.unit_of_work import UnitOfWork

CELL, BENCH, NONE = "cell", "bench", "none"
FAULTS: Mapping[str, Mapping[str, str]] = {
    CELL: {
        NONE: "nothing: it counts",
        "creep": "boost creeps",
        "boost cut": "boost is cut",
        "controller at its stop": "controller at its stop",
        "slip": "clutch or tyre slips",
        "gear": "wrong gear",
        "converter": "converter unlocks",
        "sensor at its ceiling": "a sensor is at its ceiling",
        "lean": "lean stumble",
        "knock": "knock",
        "frozen": "a channel is frozen",
        "jump": "a channel jumps",
        "misfire": "misfire",
        "short": "the pull is short",
        "battery": "battery drops",
        "fuel pressure": "fuel pressure falls",
        "heat soak": "heat soak",
        "fading coil": "power fades pull after pull",
    },
    BENCH: {
        NONE: "nothing: it can be captured",
        "sag": "the column sagged",
        "range": "wrong range",
        "leak": "something leaks",
        "blocked": "a line is blocked",
    },
}
"""What can be wrong, by desk, in the words of the choice."""
CLEAN_SHARE = 0.25
TURBO = ("creep", "boost cut", "controller at its stop", "sensor at its ceiling")
"""Faults that only an engine with a turbo has."""
BEFORE = 3
"""Pulls of the same set that stand before the one that is judged."""
INCH = from_unit(1.0, "column", "inH2O")
CFM = from_unit(1.0, "flow", "cfm")
ASKED = 28.0 * INCH
LEAK_NOW = 7.5
LEAK_OFF = 0.5
"""A leak counts as grown from this share on. Common practice, no source."""


def fault_of(desk: str, seed: int) -> str:
    """What is wrong in a round. Raises InputError for a desk that there is not."""
    if desk not in FAULTS:
        raise InputError("There is no such desk.", "desk")
    lot = random.Random(f"{desk} {seed}")
    wrong = [fault for fault in FAULTS[desk] if fault != NONE]
    return NONE if lot.random() < CLEAN_SHARE else lot.choice(wrong)


@dataclass(frozen=True)
class CellRound:
    """A made pull in a set: its channels in plain units and as a sweep, what went before it, what the software says."""

    fault: str
    made: Channels
    sweep: Sweep
    rules: PullRules
    before: tuple[Sweep, ...]
    checks: tuple[Check, ...]

    @property
    def first(self) -> Check | None:
        """The check to look at."""
        return first_of(self.checks)

    @property
    def is_valid(self) -> bool:
        """Whether the software lets it count."""
        return is_valid(self.checks)


def cell_round(seed: int) -> CellRound:
    """The pull of a round, made of its seed alone."""
    fault = fault_of(CELL, seed)
    bed = "turbo" if fault in TURBO or (fault == NONE and seed % 2) else "heron"
    cell = SimulatedCell(bed=bed, seed=seed % 9973, setting=1 if bed == "turbo" else 0)
    engine = cell.engine
    rules = PullRules(
        (engine.low + 100.0) * RPM,
        (engine.high - 100.0) * RPM,
        engine.mixture,
        0.03,
        {"coolant": 378.15, "oil": 403.15, "lean": engine.mixture + 0.1, "boost": (engine.boost + 45.0) * 1e3},
        {"coolant": (360.15, 366.15)},
        engine.boost * 1e3 if engine.boost else None,
        cell.room * 1e3,
        noise=0.9,
    )
    before, known, grows = [], list[Earlier](), fault in ("heat soak", "fading coil")
    for place in range(1, BEFORE + 1):
        if grows and place == 2:
            cell.take(f"fault {fault}")
        cell.pulls = place
        sweep = make_sweep(in_si(cell.made()))
        before.append(sweep)
        known.append(Earlier(place, "A", True, log_facts(sweep, rules)))
    if not grows:
        cell.take(f"fault {fault}")
    cell.pulls = BEFORE + 1
    made = cell.made()
    sweep = make_sweep(in_si(made))
    checks = checks_of(sweep, rules, OtherPulls(BEFORE + 1, "A", tuple(known)))
    return CellRound(fault, made, sweep, rules, tuple(before), checks)


@dataclass(frozen=True)
class BenchRound:
    """A made reading at the bench: samples of its window, range and full scale [m3/s], leak with the valves shut now and at the last
    test [m3/s], what the software says."""

    fault: str
    moments: tuple[Moment, ...]
    leak_now: float
    leak_before: float
    settled: Settled
    problems: tuple[Problem, ...]

    @property
    def share(self) -> float | None:
        """The share of the range that the last sample shows [1]."""
        last = self.moments[-1]
        return last.flow / last.full_scale if last.full_scale else None


def bench_round(seed: int) -> BenchRound:
    """The reading of a round, made of its seed alone."""
    fault, lot = fault_of(BENCH, seed), random.Random(f"reading {seed}")
    bench = SimulatedBench(seed=seed % 9973, lift=lot.uniform(2.0, 9.0), motor=0.0)
    shown = bench.flow_at_28()
    fitting = [label for label, full in RANGES.items() if 0.2 * full < shown < 0.92 * full]
    bench.range_label = fitting[0] if fitting else "4"
    if fault == "range":
        bench.range_label = next((label for label, full in RANGES.items() if shown > 0.97 * full), "1")
    asked = 28.0 * (0.80 if fault == "sag" else 1.0)
    bench.motor = (asked / _at_full(bench)) ** 0.5
    bench.fault = "blocked" if fault == "blocked" else "none"
    moments = []
    for k in range(40):
        line = bench.step(1.0 / 12.0 if k else 8.0)
        full = RANGES[line.range_label] * CFM
        moments.append(Moment(k / 12.0, line.column, (line.share or 0.0) * full, line.range_label, full))
    before = 1.2 * CFM
    now = (LEAK_NOW if fault == "leak" else lot.gauss(1.2, 0.05)) * CFM
    settled = judge_window(moments, moments[-1].at, ASKED, SettleRules())
    return BenchRound(fault, tuple(moments), now, before, settled, (*_leaks(now, before), *settled.problems))


def _at_full(bench: SimulatedBench) -> float:
    """The column at full motor on the part [inH2O]."""
    return replace(bench, motor=1.0).resting_column()


def _leaks(now: float, before: float) -> tuple[Problem, ...]:
    if now <= before * (1.0 + LEAK_OFF):
        return ()
    finding = f"With the valves shut {now / CFM:.1f} cfm pass, {before / CFM:.1f} at the last test."
    return (Problem("leak", finding, "Find the leak before reading: fixture, gasket, spark plug hole."),)


@dataclass(frozen=True)
class Score:
    """How a learner does with one kind of fault: rounds, points of two each, points of the last three."""

    fault: str
    called: str
    rounds: int
    points: int
    last: tuple[int, ...]


def points_for(fault: str, said: str) -> int:
    """2 for the right name, 1 for seeing that something is wrong, 0 else."""
    if said == fault:
        return 2
    return 1 if said != NONE and fault != NONE else 0


def answer(work: UnitOfWork, desk: str, seed: int, said: str) -> PracticeRound:
    """Keep what the learner said of a round. Raises InputError for an answer that is not among the choices, Conflict where the round
    was answered before."""
    if said not in FAULTS.get(desk, {}):
        raise InputError("Say whether it counts, or what is wrong.", "said")
    if round_of(work, desk, seed) is not None:
        raise Conflict("This round was judged already: take another.")
    fault = fault_of(desk, seed)
    if desk == CELL:
        first = cell_round(seed).first
        found = first.key if first is not None else ""
    else:
        problems = bench_round(seed).problems
        found = problems[0].key if problems else ""
    made = PracticeRound(
        user_id=work.actor.id, desk=desk, seed=seed, fault=fault, said=said, found=found, points=points_for(fault, said)
    )
    work.add(made)
    work.flush()
    return made


def round_of(work: UnitOfWork, desk: str, seed: int) -> PracticeRound | None:
    """The learner's own answer to a round, if there is one."""
    query = select(PracticeRound).where(
        PracticeRound.user_id == work.actor.id, PracticeRound.desk == desk, PracticeRound.seed == seed
    )
    return work.scalar(query.limit(1))


def scores(db: Session, user_id: int, desk: str) -> tuple[Score, ...]:
    """How a person does at a desk, by kind of fault, those that were met."""
    rows = list(
        db.scalars(
            select(PracticeRound)
            .where(PracticeRound.user_id == user_id, PracticeRound.desk == desk)
            .order_by(PracticeRound.id)
        )
    )
    found = []
    for fault, called in FAULTS[desk].items():
        mine = [row.points for row in rows if row.fault == fault]
        if mine:
            found.append(Score(fault, called, len(mine), sum(mine), tuple(mine[-3:])))
    return tuple(found)


def course_of(db: Session, user_id: int) -> tuple[PracticeRound, ...]:
    """The last rounds of a person, newest first."""
    query = select(PracticeRound).where(PracticeRound.user_id == user_id).order_by(PracticeRound.id.desc()).limit(20)
    return tuple(db.scalars(query))
