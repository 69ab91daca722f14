"""Gates of every statement: that it says what the evidence holds, and that what stands around it is said too."""

from __future__ import annotations

from longbreath.core.basis.sentence import counted
from longbreath.core.claim.gates.gate import Grounds, Look
from longbreath.core.claim.language import find_concealment, find_in_record

NOTES = {
    "sold": "What is sold",
    "rules": "Series rules",
    "idle": "Idle",
    "noise": "Noise",
    "life": "Life and care",
    "relation": "The tester’s relation to the seller",
}
"""What a sheet says of a part beside the facts, each in words or as “not recorded”."""
SAID = ("rules", "idle", "noise", "life", "relation")
"""Those that every sheet has a line for."""


def found(grounds: Grounds) -> Look:
    """The statement says something that was found."""
    words = f"{counted(len(grounds.said), 'fact')}." if grounds.said else "Choose at least one fact that may be said."
    return (bool(grounds.said), words)


def current(grounds: Grounds) -> Look:
    """The facts were chosen on the evidence that stands now."""
    met = grounds.drafted_on == grounds.evidence
    words = (
        "The evidence is the one the facts were chosen on."
        if met
        else "Evidence changed since the facts were chosen: read them again and save."
    )
    return (met, words)


def trade_offs(grounds: Grounds) -> Look:
    """Every proven loss is in the statement; those of other kinds stand on the sheet."""
    missing = grounds.required - {fact.key for fact in grounds.said}
    if missing:
        return (False, f"A proven loss is left out: {', '.join(sorted(missing))}.")
    if grounds.unweighed:
        return (False, f"There are readings that cannot be weighed: {'; '.join(grounds.unweighed)}.")
    beside = f" Beside the statement: {'; '.join(grounds.costs)}." if grounds.costs else ""
    return (True, f"{counted(len(grounds.required), 'proven loss', 'proven losses')} said.{beside}")


def records(grounds: Grounds) -> Look:
    """No name or note that the sheet prints speaks of a result."""
    for place, text in grounds.records:
        if said := find_in_record(text):
            return (False, f"“{said.word}” in {place}: {said.why}")
    return (True, "Names and notes that the sheet prints claim nothing.")


def opened(grounds: Grounds) -> Look:
    """Nothing that the sheet prints advises to hide a part from an inspection or a series."""
    for place, text in grounds.records:
        if said := find_concealment(text):
            return (False, f"“{said.word}” in {place}: {said.why}")
    return (True, "Nothing advises to hide the part from anybody.")


def approval(grounds: Grounds) -> Look:
    """What may be said of the road is said, market by market."""
    problem = grounds.road.problem
    return (not problem, problem or grounds.road.words)


def notes(grounds: Grounds) -> Look:
    """Series rules, costs in idle, noise and life, and the tester's relation to the seller are stated, or said to be unknown."""
    missing = [NOTES[about] for about in SAID if not grounds.notes.get(about, "").strip()]
    return (
        not missing,
        f"Nothing is written of: {'; '.join(missing)}." if missing else "Each has its line on the sheet.",
    )


def age(grounds: Grounds) -> Look:
    """The evidence is not older than the house lets it be."""
    days, most = grounds.age
    words = f"{counted(days, 'day')} old; the house tests again after {most}."
    return (days <= most, words)


def own(grounds: Grounds) -> Look:
    """Nothing but own tests backs a statement: typed pulls, published and supplier's figures do not."""
    if grounds.foreign:
        return (False, f"Not of an own test: {'; '.join(grounds.foreign)}.")
    beside = f" Beside it, and backing nothing: {'; '.join(grounds.outside)}." if grounds.outside else ""
    return (True, f"Own tests alone.{beside}")
