"""The gates of a claim from a dyno: conditions of the evidence, each with the sentence that meets or fails it."""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.core.basis.sentence import counted
from longbreath.core.build.sheet import Differing
from longbreath.core.claim.facts import BOOSTED
from longbreath.core.claim.language import find_in_record
from longbreath.core.dyno import compare
from longbreath.core.dyno.bands import Weighing

APPROVALS = {
    "unknown": "not stated",
    "closed_course": "closed course only: no approval for road use is held",
    "approved": "approved for road use under the certificate named",
    "not_required": "no approval is required in the market named",
}
RETURN_FACTOR = 1.96
"""Standard errors up to which harm by curved drift is said to be unseen: 95 % of a normal spread."""
HARM = 0.5
"""Curved drift may move a difference by this share of the margin of no meaningful difference."""


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


@dataclass(frozen=True)
class Grounds:
    """What the gates look at, gathered from the one evidence and the draft.

    sessions: one entry per session that takes part;
    sides: how A's and B's build sheets name the vehicle ("" where they do not), None where there is no sheet.
    outside_standard: sentences on each range of the correction standard that the air leaves. boosted: whether the engine breathes
    under boost. doubts: findings on the engine that put pulls in doubt. said: how many
    findings the statement holds; closed: whether the effect of everything that differed is known. drafted_on and evidence: keys
    of the evidence the facts were chosen on and of the one that
    stands. records: places and texts of what people wrote and a sheet prints.
    """

    weighing: Weighing
    sessions: tuple[str, ...]
    sides: tuple[str | None, str | None]
    differing: tuple[Differing, ...]
    outside_standard: tuple[str, ...]
    boosted: bool
    said: int
    drafted_on: str
    evidence: str
    records: tuple[tuple[str, str], ...]
    approval: str
    approval_note: str
    doubts: tuple[str, ...] = ()
    closed: bool = False


def gates(grounds: Grounds) -> tuple[Gate, ...]:
    """All gates of a claim of torque or power, in the order they are shown."""
    return (
        sheets(grounds),
        vehicle(grounds),
        session(grounds),
        in_range(grounds),
        counts(grounds.weighing),
        drift(grounds),
        health(grounds),
        explained(grounds),
        equal_boost(grounds),
        found(grounds),
        current(grounds),
        records(grounds),
        approval(grounds),
    )


def sheets(grounds: Grounds) -> Gate:
    """A build sheet of A and one of B stand for the day of the test."""
    missing = [label for label, side in zip("AB", grounds.sides, strict=True) if side is None]
    words = (
        f"No build sheet of {' and of '.join(missing)} stands for the day of the test: what differed is not known."
        if missing
        else "One of A and one of B stand for the day of the test."
    )
    return Gate("sheets", "build sheets of A and B", not missing, words)


def vehicle(grounds: Grounds) -> Gate:
    """Both build sheets name the vehicle that was tested, and it is the same one."""
    name = "one vehicle"
    a, b = (side or "" for side in grounds.sides)
    if not a or not b:
        missing = " and ".join(label for label, side in (("A", a), ("B", b)) if not side)
        return Gate("vehicle", name, False, f"The build sheet of {missing} does not say which vehicle it was.")
    met = " ".join(a.casefold().split()) == " ".join(b.casefold().split())
    return Gate("vehicle", name, met, f"{a}." if met else f"A was tested on {a}, B on {b}.")


def session(grounds: Grounds) -> Gate:
    """All pulls are of one session."""
    met = len(set(grounds.sessions)) == 1
    listed = ", ".join(sorted(set(grounds.sessions)))
    return Gate("session", "one session", met, f"{listed}." if met else f"More than one session: {listed}.")


def in_range(grounds: Grounds) -> Gate:
    """The air of the day lies where the correction standard permits it to be used."""
    name = "air the standard permits"
    outside = " ".join(grounds.outside_standard)
    return Gate("air", name, not outside, outside or "Temperature, pressure and factor lie in the standard’s ranges.")


def counts(weighing: Weighing) -> Gate:
    """Three valid pulls of A and of B."""
    a, b = weighing.comparison.count("A"), weighing.comparison.count("B")
    return Gate("repeats", "three or more valid pulls of each", a >= 3 and b >= 3, f"{a} of A, {b} of B.")


def drift(grounds: Grounds) -> Gate:
    """What was pulled first was pulled again, and how drift is drawn moves no band's difference by half the margin.

    Drift itself may be as large as it likes: a straight one is taken out. Harm is what a curve would change, once pulls show
    one; up to what size they could not show one stands in the sentence.
    """
    name, comparison = "drift did no harm", grounds.weighing.comparison
    if not comparison.design.drift:
        return Gate("return", name, False, f"{comparison.first} was not pulled again: drift is unknown.")
    worst, blind = 0.0, 0.0
    for item in grounds.weighing.bands:
        assert item.band is not None
        shift, error = comparison.drift_harm(item.band.low, item.band.high)
        worst = max(worst, abs(shift) / item.margin)
        blind = max(blind, (abs(shift) + RETURN_FACTOR * error) / item.margin)
    if comparison.design.curved and worst > HARM:
        words = (
            f"Drift was curved: drawn as a straight line, it moves a band's difference by {_of_a(worst, comparison)}. "
            "Warm the engine through, or let it cool alike, and pull again."
        )
        return Gate("return", name, False, words)
    if blind == float("inf"):
        return Gate("return", name, True, "A straight drift is taken out; there are too few pulls to see a curved one.")
    shape = "curved" if comparison.design.curved else "straight"
    words = (
        f"A {shape} drift is taken out; harm of up to {_of_a(blind, comparison)} by its shape could not have been seen."
    )
    return Gate("return", name, True, words)


def _of_a(margins: float, comparison: compare.Comparison) -> str:
    return f"{100.0 * margins * comparison.margin_share:.1f} % of A"


def health(grounds: Grounds) -> Gate:
    """No finding on the engine puts pulls in doubt."""
    words = " ".join(grounds.doubts)
    return Gate("health", "engine sound", not words, words or "No finding on the engine since its last good look.")


def explained(grounds: Grounds) -> Gate:
    """Whatever differed beside the part has a written reason; the result is then that of a package."""
    name = "what else differed has a reason"
    bare = [item.label for item in grounds.differing if not item.reason]
    if bare:
        return Gate(
            "explained", name, False, f"Beside the part, A and B differ without a written reason in: {'; '.join(bare)}."
        )
    if grounds.differing and grounds.closed:
        words = f"{counted(len(grounds.differing), 'difference')} with a known effect: the result is the part’s own, net of them."
        return Gate("explained", name, True, words)
    if grounds.differing:
        words = f"{counted(len(grounds.differing), 'difference')} with a reason: the result is that of a package."
        return Gate("explained", name, True, words)
    return Gate("explained", name, True, "The build sheets and the card show no difference beside the part.")


def equal_boost(grounds: Grounds) -> Gate:
    """No gain of a boosted engine goes out, in words or in the figures beside them, before it is compared at equal boost."""
    name = "gains not of boost"
    gains = [item.name for item in grounds.weighing.judged if item.verdict == compare.GAIN]
    if grounds.boosted and gains:
        return Gate("boost", name, False, f"{BOOSTED} It gained in: {', '.join(gains)}.")
    words = "Boosted, and no gain was found." if grounds.boosted else "The engine is not boosted."
    return Gate("boost", name, True, words)


def found(grounds: Grounds) -> Gate:
    """The statement says something that was found."""
    words = f"{counted(grounds.said, 'fact')}." if grounds.said else "Choose at least one fact that may be said."
    return Gate("found", "something is stated", grounds.said > 0, words)


def current(grounds: Grounds) -> Gate:
    """The facts were chosen on the evidence that stands now."""
    met = grounds.drafted_on == grounds.evidence
    words = (
        "The evidence is the one the facts were chosen on."
        if met
        else "Evidence changed since the facts were chosen: read them again and save."
    )
    return Gate("current", "facts belong to the evidence", met, words)


def records(grounds: Grounds) -> Gate:
    """No name or note that the sheet prints speaks of a result."""
    name = "records speak of no result"
    for place, text in grounds.records:
        if said := find_in_record(text):
            return Gate("records", name, False, f"“{said.word}” in {place}: {said.why}")
    return Gate("records", name, True, "Names and notes that the sheet prints claim nothing.")


def approval(grounds: Grounds) -> Gate:
    """The approval for road use is stated, with its certificate or market."""
    name = "approval for road use stated"
    if grounds.approval == "unknown":
        return Gate("approval", name, False, "State whether the part is approved for road use, or closed course only.")
    if grounds.approval != "closed_course" and not grounds.approval_note.strip():
        return Gate("approval", name, False, "Name the certificate, or the market in which none is required.")
    note = f" ({grounds.approval_note})" if grounds.approval_note.strip() else ""
    return Gate("approval", name, True, APPROVALS[grounds.approval].capitalize() + note + ".")
