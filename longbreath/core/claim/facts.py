"""What a claim is judged on, and one gate of it."""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.core.dyno.bands import Weighing

APPROVALS = {
    "unknown": "not stated",
    "closed_course": "closed course only: no approval for road use is held",
    "approved": "approved for road use under the certificate named",
    "not_required": "no approval is required in the market named",
}


@dataclass(frozen=True)
class Facts:
    """What the gates look at, gathered from the records.

    noise_sd: the dyno's known repeatability of band-mean torque [N m]. standards and vehicles: one entry per
    session that takes part. measured_at: "wheel", "crank" or "". drafted_on and evidence identify the evidence the
    words were written on and the one that stands now.
    """

    weighing: Weighing
    vehicles: tuple[str, ...]
    sessions: tuple[str, ...]
    standards: tuple[str, ...]
    measured_at: str
    noise_sd: float
    approval: str
    approval_note: str
    statement: str
    trade_off: str
    drafted_on: str = ""
    evidence: str = ""


@dataclass(frozen=True)
class Gate:
    """One condition of a claim: whether it is met, and the evidence in a sentence."""

    key: str
    name: str
    met: bool
    evidence: str


def may_publish(found: tuple[Gate, ...]) -> bool:
    """Whether every gate is met."""
    return all(gate.met for gate in found)
