"""Torque and power in words: the statement that a verdict allows, its trade-off lines, and the gates it passes."""

from __future__ import annotations

from longbreath.core.basis import units
from longbreath.core.claim import gates as gates_of
from longbreath.core.claim.facts import Facts, Gate
from longbreath.core.claim.rounding import amounts, interval
from longbreath.core.dyno import compare
from longbreath.core.dyno.bands import Judged, Weighing


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
    lines = [f"It {_sentence(item, 'lost', measured_at)}." for item in gates_of.losses_of(weighing)]
    for item in weighing.bands:
        if item.verdict == compare.NO_DIFFERENCE:
            lines.append(f"No meaningful difference {_where(item)}.")
        elif item.verdict == compare.NOT_PROVEN:
            lines.append(f"Nothing proven {_where(item)}.")
    return " ".join(lines) or "No loss was found in any band of use."


def gates(facts: Facts) -> tuple[Gate, ...]:
    """All gates of a power or torque claim, in the order they are shown."""
    return (
        gates_of.one(facts.vehicles, "vehicle", "same vehicle", "vehicle"),
        gates_of.one(facts.sessions, "session", "same session", "session"),
        gates_of.one(facts.standards, "standard", "same correction", "correction standard"),
        gates_of.counts(facts.weighing),
        gates_of.return_to_a(facts.weighing, facts.noise_sd),
        gates_of.clear(facts.weighing),
        gates_of.within(facts),
        gates_of.no_flow(facts),
        gates_of.current(facts),
        gates_of.disclosed(facts),
        gates_of.stated_at(facts),
        gates_of.approval(facts),
    )
