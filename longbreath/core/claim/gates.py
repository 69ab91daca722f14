"""The gates of a claim of torque or power, each with the sentence that meets or fails it."""

from __future__ import annotations

from math import sqrt

from longbreath.core.basis import units
from longbreath.core.claim.facts import APPROVALS, Facts, Gate
from longbreath.core.claim.rounding import interval
from longbreath.core.claim.words import AIRFLOW, IN_WORDS, names, quantities
from longbreath.core.dyno import compare
from longbreath.core.dyno.bands import Judged, Weighing

RETURN_FACTOR = 1.96
"""Standard errors that A may move between its first and last set: 95 % of a normal spread."""


def losses_of(weighing: Weighing) -> tuple[Judged, ...]:
    """The proven losses."""
    return tuple(item for item in weighing.judged if item.verdict == compare.LOSS)


def one(values: tuple[str, ...], key: str, name: str, word: str) -> Gate:
    """One vehicle, one session, one standard: every entry is the same and none is missing."""
    distinct = sorted(set(values))
    met = len(distinct) == 1 and distinct[0] != ""
    listed = ", ".join(value or "not stated" for value in distinct)
    return Gate(key, name, met, listed if met else f"More than one {word}, or none: {listed}.")


def counts(weighing: Weighing) -> Gate:
    """Three valid pulls of A and of B."""
    a, b = weighing.comparison.count("A"), weighing.comparison.count("B")
    return Gate("repeats", "three or more valid pulls of each", a >= 3 and b >= 3, f"{a} of A, {b} of B.")


def return_to_a(weighing: Weighing, noise_sd: float) -> Gate:
    """A came back to itself within what the dyno repeats: |last A − first A| ≤ 1.96·σ·√(1/n₁ + 1/n₂)."""
    name = "return to A within noise"
    back = weighing.comparison.return_to_a()
    if back is None:
        return Gate("return", name, False, "A was not pulled again after B: drift is unknown.")
    change, before, after = back
    allowed = RETURN_FACTOR * noise_sd * sqrt(1 / before + 1 / after)
    us = units.show(change, "torque", "us", allowed / 10, True)
    limit = units.show(allowed, "torque", "us", allowed / 10)
    return Gate(
        "return",
        name,
        abs(change) <= allowed,
        f"Last A less first A: {us}; the dyno's known repeatability allows ± {limit}.",
    )


def clear(weighing: Weighing) -> Gate:
    """A gain whose interval lies clear of nought."""
    name = "interval clear of nought"
    gains = weighing.having(compare.GAIN)
    if not gains:
        return Gate("clear", name, False, "No band shows a proven gain: there is nothing to claim but the null result.")
    listed = "; ".join(f"{item.name} {interval(item, 'lb-ft')}" for item in gains)
    return Gate("clear", name, True, listed + ".")


def disclosed(facts: Facts) -> Gate:
    """Every proven loss is named in the trade-off text."""
    name = "trade-off disclosed"
    losses = losses_of(facts.weighing)
    text = facts.trade_off
    missing = [item for item in losses if not names(text, item)]
    if missing:
        listed = ", ".join(item.name for item in missing)
        return Gate("trade_off", name, False, f"A proven loss is not in the trade-off text: {listed}.")
    if not text.strip():
        return Gate("trade_off", name, False, "The trade-off text is empty. Say what was found in the other bands.")
    return Gate(
        "trade_off", name, True, "Every proven loss is named." if losses else "No loss was proven; that is said."
    )


def stated_at(facts: Facts) -> Gate:
    """The statement says where it was measured: at the wheel or at the crank."""
    name = "wheel or crank stated"
    met = facts.measured_at in ("wheel", "crank") and facts.measured_at in facts.statement.lower()
    words = (
        f"At the {facts.measured_at}." if met else f"The statement must say “{facts.measured_at or 'wheel or crank'}”."
    )
    return Gate("stated_at", name, met, words)


def within(facts: Facts) -> Gate:
    """No torque or power in the statement is larger than the upper end of the largest difference found."""
    name = "figures within the evidence"
    weighing = facts.weighing
    torque = [j.effect.high for j in (*weighing.bands, weighing.peak_torque)]
    torque += [local.difference + local.half_width for local in weighing.locals]
    most = {"torque": max(torque), "power": weighing.peak_power.effect.high}
    if said := IN_WORDS.search(facts.statement):
        words = f"“{said[0]}”: write the figure in digits, so that it can be held against the evidence."
        return Gate("within", name, False, words)
    for written, kind, symbol, value in quantities(facts.statement):
        if value > round(units.to_unit(most[kind], kind, symbol), 1) + 0.051:
            return Gate("within", name, False, f"{written} is more than any difference that was found.")
    return Gate("within", name, True, "No figure in the statement is larger than what was found.")


def no_flow(facts: Facts) -> Gate:
    """A power or torque claim quotes no airflow: bench flow is no power."""
    found = AIRFLOW.search(facts.statement)
    words = (
        f"“{found[0]}” is airflow: it is claimed as flow on its fixture, never inside a claim of power or torque."
        if found
        else "No airflow is quoted as power."
    )
    return Gate("no_flow", "flow is not quoted as power", found is None, words)


def current(facts: Facts) -> Gate:
    """The words were written on the evidence that stands now."""
    met = facts.drafted_on == facts.evidence
    words = (
        "The evidence is the one the words were written on."
        if met
        else (
            "Pulls, judgements or weather changed since the words were written: read them again and save, or draft anew."
        )
    )
    return Gate("current", "words belong to the evidence", met, words)


def approval(facts: Facts) -> Gate:
    """The approval for road use is stated, with its certificate or market."""
    name = "approval for road use stated"
    if facts.approval == "unknown":
        return Gate("approval", name, False, "State whether the part is approved for road use, or closed course only.")
    if facts.approval != "closed_course" and not facts.approval_note.strip():
        return Gate("approval", name, False, "Name the certificate, or the market in which none is required.")
    note = f" ({facts.approval_note})" if facts.approval_note.strip() else ""
    return Gate("approval", name, True, APPROVALS[facts.approval].capitalize() + note + ".")
