"""Airflow in words: the statement that two comparable traces allow, and what such a statement may not say."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from longbreath.core.basis import units
from longbreath.core.basis.sentence import counted
from longbreath.core.basis.working import Figure
from longbreath.core.claim.facts import Gate
from longbreath.core.claim.rounding import conservative
from longbreath.core.claim.words import ENGINE, FLOW, NOT_POWER, POWER, number

ALLOWANCE = 0.51
"""What a written figure may exceed the evidence by, in the unit it is written in: the rounding to a whole unit."""


@dataclass(frozen=True)
class LiftGain:
    """One lift [m] (None for a fixed part) with A's flow [m3/s] and B − A as a figure."""

    lift: float | None
    a: float
    gain: Figure
    referred: bool = False

    @property
    def proven(self) -> bool:
        """Whether the interval is clear of nought."""
        return abs(self.gain.value) > (self.gain.uncertainty or 0.0)


@dataclass(frozen=True)
class Pair:
    """Two traces that are to back one statement: names, fixture in words, what differs between their fixtures, lifts."""

    a: str
    b: str
    fixture: str
    test_pressure: float
    differs: tuple[str, ...]
    lifts: Sequence[LiftGain]
    cylinders: int
    calibration_due: bool = False
    never_checked: bool = False


def _flow(value: float, symbol: str) -> str:
    rounded = conservative(units.to_unit(value, "flow", symbol), 0.5)
    return f"{units.tidy_number(rounded, 1, True)} {symbol}"


def draft(pair: Pair) -> str:
    """The statement that the evidence allows, rounded against the maker: per lift, on that fixture, as flow."""
    proven = [lift for lift in pair.lifts if lift.proven]
    where = f"on one port, at {units.show(pair.test_pressure, 'column', 'us')}, {pair.fixture}"
    if not proven:
        return f"No difference in airflow was proven between {pair.b} and {pair.a} {where}."
    best = max(proven, key=lambda lift: lift.gain.value)
    worst = min(proven, key=lambda lift: lift.gain.value)
    parts = [
        _sentence(lift) for lift in ([best] if best.gain.value > 0 else []) + ([worst] if worst.gain.value < 0 else [])
    ]
    return f"{pair.b} flowed {'; '.join(parts)}, against {pair.a}, {where}. Airflow on a bench, not power."


def _sentence(lift: LiftGain) -> str:
    gain, spread = lift.gain.value, lift.gain.uncertainty or 0.0
    ends = " to ".join(
        units.tidy_number(units.to_unit(x, "flow", "cfm"), 1, True) for x in (gain - spread, gain + spread)
    )
    at = "" if lift.lift is None else f" at {units.show(lift.lift, 'length', 'metric')} of lift"
    return f"{_flow(gain, 'cfm')} ({_flow(gain, 'L/s')}){at} (95 % interval {ends} cfm)"


def check(statement: str, pair: Pair) -> tuple[Gate, ...]:
    """The gates of a statement on airflow, each with what meets or fails it."""
    return (
        _same_fixture(pair),
        _read_there(pair),
        _calibrated(pair),
        _clear(pair),
        _no_power(statement),
        _not_multiplied(statement, pair),
        _condition(statement, pair),
    )


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
    proven = sum(lift.proven for lift in pair.lifts)
    return Gate("clear", "interval clear of nought", proven > 0, f"{proven} of {counted(len(pair.lifts), 'lift')}.")


def _no_power(statement: str) -> Gate:
    found = POWER.search(NOT_POWER.sub("", statement))
    words = (
        f"“{found[0]}” speaks of power or torque: flow is claimed as flow, power is claimed from a dyno test."
        if found
        else "No power or torque is quoted."
    )
    return Gate("as_flow", "flow is claimed as flow", found is None, words)


def _not_multiplied(statement: str, pair: Pair) -> Gate:
    name = "one port, not multiplied"
    if found := ENGINE.search(statement):
        return Gate(
            "one_port", name, False, f"“{found[0]}”: ports do not flow at the same time; say what one port did."
        )
    most = {
        s: units.to_unit(
            max((abs(g.gain.value) + (g.gain.uncertainty or 0.0) for g in pair.lifts), default=0.0), "flow", s
        )
        for s in ("cfm", "L/s")
    }
    for written, symbol in FLOW.findall(statement):
        unit = "cfm" if symbol.lower() == "cfm" else "L/s"
        if abs(number(written)) > most[unit] + ALLOWANCE:
            return Gate(
                "one_port",
                name,
                False,
                f"{written} {unit} is more than any lift gained. A port’s gain is not "
                f"multiplied by {counted(pair.cylinders, 'cylinder')}.",
            )
    return Gate("one_port", name, True, "No figure is larger than what one port gained.")


def _condition(statement: str, pair: Pair) -> Gate:
    wanted = units.show(pair.test_pressure, "column", "us").split("\u00a0")[0].rstrip("0").rstrip(".")
    met = wanted in statement and re.search(r"inH|in\.? of water|kPa|\bin\b", statement) is not None
    words = "The test pressure is in the statement." if met else f"Name the test pressure: {wanted} inH₂O."
    return Gate("condition", "condition stated", met, words)
