"""Gates of a flow bench."""

from __future__ import annotations

from longbreath.core.basis import units
from longbreath.core.basis.sentence import counted
from longbreath.core.claim.facts import NOT_PROVEN
from longbreath.core.claim.gates.gate import Grounds, Look
from longbreath.core.claim.kinds.airflow import facts_of


def same_fixture(grounds: Grounds) -> Look:
    """Both traces were read on one fixture at one test pressure, which the statement names."""
    pair = grounds.on_bench
    words = "; ".join(pair.differs)
    return (not words, f"Different fixtures cannot back one claim: {words}." if words else f"{pair.fixture}.")


def read_there(grounds: Grounds) -> Look:
    """Every lift was read at the test pressure, not referred to it."""
    referred = [lift for lift in grounds.on_bench.lifts if lift.referred]
    listed = ", ".join("the part" if r.lift is None else units.show(r.lift, "length", "metric") for r in referred)
    return (not referred, f"Referred, not read, at {listed}." if referred else "All read there.")


def plate(grounds: Grounds) -> Look:
    """The bench was checked with a plate, and the check was not overdue."""
    pair = grounds.on_bench
    if pair.never_checked:
        return (False, "It was never checked with a plate: the scale is only the bench’s own.")
    if pair.calibration_due:
        return (False, "Its plate check is overdue.")
    return (True, "Checked with a plate and not overdue.")


def measured(grounds: Grounds) -> Look:
    """Something was measured on both, with an uncertainty."""
    known = facts_of(grounds.on_bench)
    proven = sum(fact.kind != NOT_PROVEN for fact in known)
    words = f"{proven} of {counted(len(known), 'lift')} proven." if known else "No difference with an uncertainty."
    return (bool(known), words)
