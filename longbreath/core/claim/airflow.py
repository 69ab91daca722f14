"""Airflow: the facts that two comparable traces hold, and the gates that such a statement passes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from scipy import stats

from longbreath.core.basis import units
from longbreath.core.basis.sentence import counted
from longbreath.core.basis.working import Figure
from longbreath.core.claim.facts import GAIN, LIFT, LOSS, NOT_PROVEN, PART, Fact, Setting
from longbreath.core.claim.gates import Gate


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
        return Setting(self.b, self.a, fixture=self.fixture, test_pressure=self.test_pressure)


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
    return float(stats.norm.ppf(1.0 - 0.025 / lifts) / stats.norm.ppf(0.975))


def _fact(lift: LiftGain, factor: float) -> Fact:
    half = factor * (lift.gain.uncertainty or 0.0)
    kind = NOT_PROVEN if abs(lift.gain.value) <= half else GAIN if lift.gain.value > 0 else LOSS
    at = lift.lift or 0.0
    name = "" if lift.lift is None else f"{at * 1000:.2f}mm"
    scope = PART if lift.lift is None else LIFT
    return Fact(kind, "flow", scope, at, at, lift.gain.value, half, name)


def gates(pair: Pair) -> tuple[Gate, ...]:
    """The gates of a statement on airflow, each with what meets or fails it."""
    return (_same_fixture(pair), _read_there(pair), _calibrated(pair), _clear(pair))


def _same_fixture(pair: Pair) -> Gate:
    words = "; ".join(pair.differs)
    return Gate(
        "fixture",
        "one fixture and test pressure",
        not pair.differs,
        f"Different fixtures cannot back one claim: {words}." if words else pair.fixture + ".",
    )


def _read_there(pair: Pair) -> Gate:
    referred = [lift for lift in pair.lifts if lift.referred]
    listed = ", ".join("the part" if r.lift is None else units.show(r.lift, "length", "metric") for r in referred)
    words = (
        f"Referred, not read, at {listed}: take these again at the test pressure." if referred else "All read there."
    )
    return Gate("read", "read at the test pressure", not referred, words)


def _calibrated(pair: Pair) -> Gate:
    words = "Checked with a plate and not overdue."
    if pair.never_checked:
        words = "It was never checked with a plate: the scale is only the bench's own."
    elif pair.calibration_due:
        words = "Its plate check is overdue."
    met = not (pair.never_checked or pair.calibration_due)
    return Gate("calibrated", "bench checked with a plate", met, words)


def _clear(pair: Pair) -> Gate:
    known = facts_of(pair)
    proven = sum(fact.kind != NOT_PROVEN for fact in known)
    words = f"{proven} of {counted(len(known), 'lift')} proven." if known else "No difference with an uncertainty."
    return Gate("found", "something was measured on both", bool(known), words)
