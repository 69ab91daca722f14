"""Airflow: the facts that two comparable traces of a bench hold. Flow is claimed as flow on one port, and as nothing else."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from longbreath.core.basis import units
from longbreath.core.basis.quantiles import normal_at
from longbreath.core.basis.working import Figure
from longbreath.core.claim.facts import GAIN, LIFT, LOSS, NOT_PROVEN, PART, Fact, Setting
from longbreath.core.claim.kinds.kind import ClaimKind, Quantity


@dataclass(frozen=True)
class LiftGain:
    """One lift [m] (None for a fixed part) with A's flow [m3/s] and B − A as a figure."""

    lift: float | None
    a: float
    gain: Figure
    referred: bool = False


@dataclass(frozen=True)
class Pair:
    """Two traces that are to back one statement: names, fixture in words, what differs between their fixtures, lifts."""

    a: str
    b: str
    fixture: str
    test_pressure: float
    differs: tuple[str, ...]
    lifts: Sequence[LiftGain]
    calibration_due: bool = False
    never_checked: bool = False

    @property
    def setting(self) -> Setting:
        """What all facts of these traces share."""
        return Setting(self.b, self.a, fixture=self.fixture, test_pressure=self.test_pressure, kind="airflow")


def facts_of(pair: Pair) -> tuple[Fact, ...]:
    """What the traces hold: one fact a lift, gains from the largest, then losses, then what is not proven.

    Every proven loss must be said; of the gains the largest is usual, of the unproven none unless nothing else was found.
    A port's gain is never multiplied by the cylinders: ports do not flow at the same time. The lifts share 5 % error, since
    the largest may be picked out after looking.
    """
    known = [lift for lift in pair.lifts if lift.gain.uncertainty]
    found = [_fact(lift, shared(len(known))) for lift in known]
    gains = sorted((f for f in found if f.kind == GAIN), key=lambda f: -f.value)
    losses = sorted((f for f in found if f.kind == LOSS), key=lambda f: f.value)
    rest = [f for f in found if f.kind == NOT_PROVEN]
    best = gains[0].key if gains else "" if losses else next((f.key for f in rest), "")
    return tuple(
        Fact(**{**vars(f), "usual": f.kind == LOSS or f.key == best, "required": f.kind == LOSS})
        for f in (*gains, *losses, *rest)
    )


def shared(lifts: int) -> float:
    """What the half width of one interval of 95 % is multiplied by so that several hold together. Source: Bonferroni."""
    return normal_at(1.0 - 0.025 / lifts) / normal_at(0.975)


def _fact(lift: LiftGain, factor: float) -> Fact:
    half = factor * (lift.gain.uncertainty or 0.0)
    kind = NOT_PROVEN if abs(lift.gain.value) <= half else GAIN if lift.gain.value > 0 else LOSS
    at = lift.lift or 0.0
    name = "" if lift.lift is None else f"{at * 1000:.2f}mm"
    scope = PART if lift.lift is None else LIFT
    return Fact(kind, "flow", scope, at, at, lift.gain.value, half, name)


def what(fact: Fact, setting: Setting) -> str:
    """At which lift; a fixed part has none."""
    return f" at {fact.about}" if fact.scope == LIFT else ""


def place(setting: Setting, metric_first: bool) -> str:
    """On what the part sat, and at which pressure."""
    column = [units.show(setting.test_pressure, "column", system) for system in ("us", "metric")]
    first, second = reversed(column) if metric_first else column
    return f"On one port, at {first} ({second}), {setting.fixture}"


def measured(setting: Setting) -> str:
    """What flow is not."""
    return "Airflow on a bench, not power."


WORDINGS = {
    GAIN: ("flowed {size} more{what}", "gained {size} of airflow{what}"),
    LOSS: ("flowed {size} less{what}", "lost {size} of airflow{what}"),
    NOT_PROVEN: ("showed no proven difference in airflow{what}", "left a difference in airflow{what} unproven"),
}
KIND = ClaimKind(
    "airflow",
    "Airflow",
    "Two traces of one bench session on one fixture at one test pressure, read there, the bench checked with a plate.",
    (
        "an engine’s airflow: a port’s flow times the cylinders",
        "power or torque out of flow, by any number of horses a unit of flow",
        "a flow without fixture, pressure and lift",
    ),
    (Quantity("flow", "flow", WORDINGS, what),),
    place,
    measured,
)
