"""Claims: conservative rounding, the drafted statement, and the gates that must hold before it is published."""

from __future__ import annotations

import re
from dataclasses import dataclass
from math import ceil, floor, sqrt

from longbreath.core.basis import units
from longbreath.core.dyno import compare
from longbreath.core.dyno.bands import Judged, Weighing

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


def conservative(value: float, step: float) -> float:
    """Round a gain toward nought and a loss away from nought, to multiples of `step` (same unit as value)."""
    if value >= 0:
        return floor(value / step + 1e-9) * step
    return -ceil(-value / step - 1e-9) * step


def _amount(item: Judged, symbol: str) -> str:
    value = units.to_unit(item.effect.value, item.kind, symbol)
    half = units.to_unit(item.effect.half_width, item.kind, symbol)
    step = 1.0 if half >= 0.5 else 0.5
    rounded = abs(conservative(value, step))
    if rounded == 0:
        return f"less than {step:g} {symbol}"
    return f"{rounded:g} {symbol}"


def amounts(item: Judged) -> str:
    """A difference in both unit systems, rounded conservatively: "2 lb-ft (3 N·m)"."""
    kind = units.kind_named(item.kind)
    return f"{_amount(item, kind.us)} ({_amount(item, kind.metric)})"


def interval(item: Judged, symbol: str) -> str:
    """The 95 % interval of a difference as text in one unit."""
    low, high = (units.to_unit(x, item.kind, symbol) for x in (item.effect.low, item.effect.high))
    return f"{units.tidy_number(low, 1, True)} to {units.tidy_number(high, 1, True)} {symbol}"


def _where(item: Judged) -> str:
    return f"between {item.band.words.replace('–', ' and ')} rpm" if item.band else f"in {item.name}"


def _sentence(item: Judged, verb: str, measured_at: str) -> str:
    symbol = units.kind_named(item.kind).us
    quantity = f"mean {measured_at} torque {_where(item)}" if item.band else f"peak {measured_at} {item.kind}"
    return f"{verb} {amounts(item)} of {quantity} (95 % interval {interval(item, symbol)})"


def draft_statement(weighing: Weighing, product: str, vehicle: str, measured_at: str, standard: str) -> str:
    """The statement that the verdict allows: the proven gains, or that no difference was found."""
    gains = weighing.having(compare.GAIN)
    end = f"Measured back to back on one vehicle in one session, corrected by {standard}, stated at the {measured_at}."
    if gains:
        parts = "; ".join(_sentence(item, "gained", measured_at) for item in gains)
        return f"On the {vehicle}, the {product} {parts}, against the stock part. {end}"
    same = weighing.having(compare.NO_DIFFERENCE)
    if same:
        parts = ", ".join(_where(item) for item in same)
        return f"On the {vehicle}, the {product} made no meaningful difference in {measured_at} torque {parts}. {end}"
    return f"On the {vehicle}, no difference in {measured_at} torque was proven for the {product}. {end}"


def draft_trade_off(weighing: Weighing, measured_at: str) -> str:
    """The trade-off lines: every proven loss, then the bands where nothing was proven."""
    lines = [f"It {_sentence(item, 'lost', measured_at)}." for item in _losses(weighing)]
    for item in weighing.bands:
        if item.verdict == compare.NO_DIFFERENCE:
            lines.append(f"No meaningful difference {_where(item)}.")
        elif item.verdict == compare.NOT_PROVEN:
            lines.append(f"Nothing proven {_where(item)}.")
    return " ".join(lines) or "No loss was found in any band of use."


def _losses(weighing: Weighing) -> tuple[Judged, ...]:
    return tuple(item for item in weighing.judged if item.verdict == compare.LOSS)


def _one(values: tuple[str, ...], key: str, name: str, word: str) -> Gate:
    distinct = sorted(set(values))
    met = len(distinct) == 1 and distinct[0] != ""
    listed = ", ".join(value or "not stated" for value in distinct)
    return Gate(key, name, met, listed if met else f"More than one {word}, or none: {listed}.")


def _counts(weighing: Weighing) -> Gate:
    a, b = weighing.comparison.count("A"), weighing.comparison.count("B")
    return Gate("repeats", "three or more valid pulls of each", a >= 3 and b >= 3, f"{a} of A, {b} of B.")


def return_to_a(weighing: Weighing, noise_sd: float) -> Gate:
    """A came back to itself within what the dyno repeats: |last A − first A| ≤ 1.96·σ·√(1/n₁ + 1/n₂)."""
    name = "return to A within noise"
    back = weighing.comparison.return_to_a()
    if back is None:
        return Gate("return", name, False, "A was not pulled again after B: drift is unknown.")
    change, before, after = back
    allowed = 1.96 * noise_sd * sqrt(1 / before + 1 / after)
    us = units.show(change, "torque", "us", allowed / 10, True)
    limit = units.show(allowed, "torque", "us", allowed / 10)
    return Gate(
        "return",
        name,
        abs(change) <= allowed,
        f"Last A less first A: {us}; the dyno's known repeatability allows ± {limit}.",
    )


def _clear(weighing: Weighing) -> Gate:
    name = "interval clear of nought"
    gains = weighing.having(compare.GAIN)
    if not gains:
        return Gate("clear", name, False, "No band shows a proven gain: there is nothing to claim but the null result.")
    listed = "; ".join(f"{item.name} {interval(item, 'lb-ft')}" for item in gains)
    return Gate("clear", name, True, listed + ".")


def _disclosed(facts: Facts) -> Gate:
    name = "trade-off disclosed"
    losses = _losses(facts.weighing)
    text = facts.trade_off
    missing = [item for item in losses if not _names(text, item)]
    if missing:
        listed = ", ".join(item.name for item in missing)
        return Gate("trade_off", name, False, f"A proven loss is not in the trade-off text: {listed}.")
    if not text.strip():
        return Gate("trade_off", name, False, "The trade-off text is empty. Say what was found in the other bands.")
    return Gate(
        "trade_off", name, True, "Every proven loss is named." if losses else "No loss was proven; that is said."
    )


def _names(text: str, item: Judged) -> bool:
    plain = "".join(c for c in text if not c.isspace()).lower()
    if item.band is None:
        return "peak" in plain and item.kind in plain
    bounds = item.band.words.replace("\u202f", "").split("–")
    return all(bound in plain for bound in bounds)


def _stated_at(facts: Facts) -> Gate:
    name = "wheel or crank stated"
    met = facts.measured_at in ("wheel", "crank") and facts.measured_at in facts.statement.lower()
    words = (
        f"At the {facts.measured_at}." if met else f"The statement must say “{facts.measured_at or 'wheel or crank'}”."
    )
    return Gate("stated_at", name, met, words)


_QUANTITY = re.compile(r"([+−-]?\d+(?:[.,]\d+)?)[\s\u00a0\u202f]*(lb-ft|N·m|hp|kW)")


def _within(facts: Facts) -> Gate:
    """No torque or power in the statement is larger than the upper end of the largest difference found."""
    name = "figures within the evidence"
    weighing = facts.weighing
    torque = [j.effect.high for j in (*weighing.bands, weighing.peak_torque)]
    torque += [local.difference + local.half_width for local in weighing.locals]
    most = {"torque": max(torque), "power": weighing.peak_power.effect.high}
    for number, symbol in _QUANTITY.findall(facts.statement):
        kind = "torque" if symbol in ("lb-ft", "N·m") else "power"
        written = float(number.replace(",", ".").replace("−", "-"))
        if written > round(units.to_unit(most[kind], kind, symbol), 1) + 0.051:
            return Gate("within", name, False, f"{number} {symbol} is more than any difference that was found.")
    return Gate("within", name, True, "No figure in the statement is larger than what was found.")


_AIRFLOW = re.compile(r"\d[\d.,]*[\s\u00a0\u202f]*(cfm|L/s|m³/h)", re.IGNORECASE)


def _no_flow(facts: Facts) -> Gate:
    """A power or torque claim quotes no airflow: bench flow is no power."""
    found = _AIRFLOW.search(facts.statement)
    words = (
        f"“{found[0]}” is airflow: it is claimed as flow on its fixture, never inside a claim of power or torque."
        if found
        else "No airflow is quoted as power."
    )
    return Gate("no_flow", "flow is not quoted as power", found is None, words)


def _current(facts: Facts) -> Gate:
    met = facts.drafted_on == facts.evidence
    words = (
        "The evidence is the one the words were written on."
        if met
        else (
            "Pulls, judgements or weather changed since the words were written: read them again and save, or draft anew."
        )
    )
    return Gate("current", "words belong to the evidence", met, words)


def _approval(facts: Facts) -> Gate:
    name = "approval for road use stated"
    if facts.approval == "unknown":
        return Gate("approval", name, False, "State whether the part is approved for road use, or closed course only.")
    if facts.approval != "closed_course" and not facts.approval_note.strip():
        return Gate("approval", name, False, "Name the certificate, or the market in which none is required.")
    note = f" ({facts.approval_note})" if facts.approval_note.strip() else ""
    return Gate("approval", name, True, APPROVALS[facts.approval].capitalize() + note + ".")


def gates(facts: Facts) -> tuple[Gate, ...]:
    """All gates of a power or torque claim, in the order they are shown."""
    return (
        _one(facts.vehicles, "vehicle", "same vehicle", "vehicle"),
        _one(facts.sessions, "session", "same session", "session"),
        _one(facts.standards, "standard", "same correction", "correction standard"),
        _counts(facts.weighing),
        return_to_a(facts.weighing, facts.noise_sd),
        _clear(facts.weighing),
        _within(facts),
        _no_flow(facts),
        _current(facts),
        _disclosed(facts),
        _stated_at(facts),
        _approval(facts),
    )


def may_publish(found: tuple[Gate, ...]) -> bool:
    """Whether every gate is met."""
    return all(gate.met for gate in found)
