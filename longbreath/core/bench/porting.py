"""Hours with the grinder against airflow: gain per hour, shortfall, hours to expect, and go or stop."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, inf, log

import numpy as np

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working

GO, STOP, DONE = "go on", "stop", "target reached"
SOURCE = "Least squares on the measured bouts; a rate that falls by the same share each hour. Ours; common practice is by eye."


@dataclass(frozen=True)
class Bout:
    """One bout of porting: hours spent [s], flow after it [m3/s] with expanded uncertainty [m3/s], least wall left [m]."""

    hours: float
    flow: float
    uncertainty: float = 0.0
    wall: float | None = None


@dataclass(frozen=True)
class Job:
    """What the porting is for: flow before it and wanted [m3/s], hours allowed [s], wall that must stay [m]."""

    start: float
    target: float
    allowed: float
    wall_limit: float
    start_uncertainty: float = 0.0

    def __post_init__(self) -> None:
        if self.start <= 0 or self.target <= self.start:
            raise InputError("The target must be more than the flow to begin with.", "target_flow")
        if self.allowed <= 0:
            raise InputError("Say how many hours may be spent.", "hours_allowed")


@dataclass(frozen=True)
class Outlook:
    """Where a port stands: figures, the judgement (go on, stop, target reached) and its reason."""

    spent: Figure
    last_rate: Figure
    whole_rate: Figure
    shortfall: Figure
    expected: Figure | None
    judgement: str
    reason: str


_SYMBOLS = {"spent": "t", "last_rate": "r", "whole_rate": "r_m", "shortfall": "ΔQ", "expected": "t_e"}
"""Symbols of a job's figures."""


def outlook(job: Job, bouts: Sequence[Bout], rows: tuple[str, ...] = ()) -> Outlook:
    """Judge a porting job by its bouts in order. Raises InputError for none, or a bout without time."""
    if not bouts:
        raise InputError("Nothing is ported yet.", "hours")
    if any(b.hours <= 0 for b in bouts):
        raise InputError("A bout takes some time.", "hours")
    spent = sum(b.hours for b in bouts)
    flows = [job.start, *(b.flow for b in bouts)]
    rates = [(after - before) / b.hours for before, after, b in zip(flows, flows[1:], bouts, strict=False)]
    last, short = bouts[-1], job.target - bouts[-1].flow
    decay = _decay(bouts, rates)
    expected = _expected(short, rates[-1], decay)
    judgement, reason = _judge(job, bouts, rates[-1], short, expected, spent)

    def figure(
        name: str, label: str, value: float, kind: str, formula: str, *givens: Given, signed: bool = False
    ) -> Figure:
        working = Working(label, givens, (Step(_SYMBOLS[name], formula, value, kind),), SOURCE, (), rows)
        return Figure(name, label, value, kind, working, signed=signed, significant=3)

    now = Given("Q", "flow now", last.flow, "flow")
    hours = Given("t", "hours of the bout", last.hours, "hours")
    before = Given("Q_0", "flow before the bout", flows[-2], "flow")
    return Outlook(
        figure("spent", "Hours spent", spent, "hours", "Σ t_i"),
        figure(
            "last_rate",
            "Gain per hour, last bout",
            rates[-1],
            "flow_rate",
            "(Q − Q_0)/t",
            now,
            before,
            hours,
            signed=True,
        ),
        figure(
            "whole_rate",
            "Gain per hour, whole job",
            (last.flow - job.start) / spent,
            "flow_rate",
            "(Q − Q_start)/Σt",
            now,
            Given("Q_start", "flow to begin with", job.start, "flow"),
            signed=True,
        ),
        figure(
            "shortfall",
            "Short of the target",
            max(short, 0.0),
            "flow",
            "Q_target − Q",
            now,
            Given("Q_target", "target", job.target, "flow"),
        ),
        None
        if expected == inf
        else figure(
            "expected",
            "Hours to expect",
            expected,
            "hours",
            "−ln(1 − ΔQ·λ/r)/λ" if decay > 0 else "ΔQ/r",
            Given("ΔQ", "short of the target", max(short, 0.0), "flow"),
            Given("r", "gain per hour now", rates[-1], "flow_rate"),
            Given("λ", "share the rate falls by in an hour", 1 - exp(-decay * 3600.0), "percent"),
        ),
        judgement,
        reason,
    )


def _decay(bouts: Sequence[Bout], rates: Sequence[float]) -> float:
    """How fast the rate falls [1/s], from three gaining bouts or more; nought if it does not fall."""
    ends = np.cumsum([b.hours for b in bouts])
    middles = ends - np.array([b.hours for b in bouts]) / 2.0
    gaining = [(t, log(r)) for t, r in zip(middles, rates, strict=True) if r > 0]
    if len(gaining) < 3:
        return 0.0
    slope = np.polyfit([t for t, _ in gaining], [y for _, y in gaining], 1)[0]
    return max(0.0, -float(slope))


def _expected(short: float, rate: float, decay: float) -> float:
    """Time [s] to close `short` [m3/s] at `rate` [m3/s per s] falling by `decay` [1/s]; infinite if it never will."""
    if short <= 0:
        return 0.0
    if rate <= 0:
        return inf
    if decay <= 0:
        return short / rate
    left = 1.0 - short * decay / rate
    return -log(left) / decay if left > 0 else inf


def _judge(
    job: Job, bouts: Sequence[Bout], rate: float, short: float, expected: float, spent: float
) -> tuple[str, str]:
    last = bouts[-1]
    before = bouts[-2] if len(bouts) > 1 else Bout(1.0, job.start, job.start_uncertainty)
    if last.wall is not None and last.wall <= job.wall_limit:
        return STOP, "The wall is at its limit at one point. Grinding on risks breaking through."
    if short <= 0:
        return DONE, "The target is reached; leave the rest of the wall where it is."
    noise = (last.uncertainty**2 + before.uncertainty**2) ** 0.5
    if last.flow - before.flow <= noise:
        return STOP, (
            "The last bout gained nothing beyond what the bench can tell. Something else limits: look at the seat, the "
            "manifold, the valve."
        )
    if expected == inf:
        return STOP, "On this trend the target is never reached: each hour gains less than the one before."
    if spent + expected > job.allowed:
        return STOP, "On this trend the target takes more hours than are allowed."
    return GO, "On this trend the target is reached within the hours allowed, with wall to spare."
