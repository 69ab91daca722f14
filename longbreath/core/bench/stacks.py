"""Parts bolted on one another: series restriction, which piece limits, what a piece must flow; pressure at equal flow."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from math import sqrt

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.propagate import Unsure, propagate
from longbreath.core.basis.working import Figure, Given, Step, Working

SOURCE = (
    "Restrictions in series at one test pressure: 1/Q² = Σ 1/Q_i² (incompressible, no interaction); common practice."
)
CAUTION = "The law leaves out how one piece feeds the next. Measure the stack; use this to see where to work."


@dataclass(frozen=True)
class StackState:
    """One measured state of a stack: what was bolted on, its flow [m3/s] and expanded uncertainty [m3/s]."""

    name: str
    flow: float
    uncertainty: float = 0.0


def series(flows: Sequence[float]) -> float:
    """Flow [m3/s] of restrictions in series, each [m3/s] alone at one test pressure. Raises InputError for none or nought."""
    if not flows or min(flows) <= 0:
        raise InputError("Each piece of a stack needs a flow of more than nought.", "flow")
    return 1.0 / sqrt(sum(1.0 / q**2 for q in flows))


def alone(stack: float, rest: float) -> float:
    """What the added piece would flow alone [m3/s], from the stack with it and the rest without it [m3/s].

    Raises InputError unless the stack flows less than the rest.
    """
    if not 0 < stack < rest:
        raise InputError(
            "The stack flows as much as without the piece: its restriction is inside the noise, no flow alone follows.",
            "stack",
        )
    return 1.0 / sqrt(1.0 / stack**2 - 1.0 / rest**2)


def loss_figure(rest: StackState, stack: StackState) -> Figure:
    """Flow lost by bolting the piece on, as a share of the rest alone, with its uncertainty."""
    ratio = stack.flow / rest.flow
    found = propagate(
        lambda with_it, without: 1.0 - with_it / without,
        (Unsure(stack.name, stack.flow, stack.uncertainty), Unsure(rest.name, rest.flow, rest.uncertainty)),
    )
    spread = found.half_width
    working = Working(
        "Loss by the piece",
        (Given("Q_1", rest.name, rest.flow, "flow"), Given("Q_2", stack.name, stack.flow, "flow")),
        (Step("ℓ", "1 − Q_2/Q_1", 1.0 - ratio, "percent"), Step("U", "Q_2/Q_1·√(Σ(U/Q)²)", spread, "percent")),
        "Definition; uncertainties in quadrature (GUM).",
        (found.note,) if found.note else (),
    )
    return Figure("loss", "Flow lost", 1.0 - ratio, "percent", working, spread or None, significant=3)


@lru_cache(256)
def alone_figure(rest: StackState, stack: StackState) -> Figure:
    """What the piece would flow alone by the series law [m3/s], with its uncertainty. Raises InputError as `alone`."""
    value = alone(stack.flow, rest.flow)
    spread = propagate(
        alone, (Unsure(stack.name, stack.flow, stack.uncertainty), Unsure(rest.name, rest.flow, rest.uncertainty))
    )
    line = (
        Step("±", "what Q_1 and Q_2 leave open", spread.half_width, "flow")
        if spread.is_even
        else Step("low", "2.5 % quantile of 5,000 draws of Q_1 and Q_2", spread.low, "flow")
    )
    working = Working(
        "The piece alone, by the series law",
        (Given("Q_1", rest.name, rest.flow, "flow"), Given("Q_2", stack.name, stack.flow, "flow")),
        (Step("Q_p", "1/√(1/Q_2² − 1/Q_1²)", value, "flow"), *((line,) if spread.half_width else ())),
        SOURCE,
        (CAUTION, *((spread.note,) if spread.note else ())),
    )
    half = spread.half_width if spread.is_even else None
    between = None if spread.is_even else (spread.low, spread.high)
    return Figure("alone", "Would flow alone", value, "flow", working, half or None, significant=3, between=between)


def drop_share_figure(piece: str, piece_flow: float, whole: StackState) -> Figure:
    """Share of the whole stack's pressure drop that one piece takes: (Q/Q_i)². Flows [m3/s]."""
    share = (whole.flow / piece_flow) ** 2
    working = Working(
        f"Share of the drop across {piece}",
        (Given("Q", whole.name, whole.flow, "flow"), Given("Q_i", f"{piece} alone", piece_flow, "flow")),
        (Step("σ", "(Q/Q_i)²", share, "percent"),),
        SOURCE,
        (CAUTION,),
    )
    return Figure("drop_share", f"Share of the drop across {piece}", share, "percent", working, significant=2)


def needed_figure(target: float, rest: StackState) -> Figure:
    """What the added piece must flow alone [m3/s] for the stack to reach `target` [m3/s] through the rest.

    Raises InputError if the rest alone flows no more than the target.
    """
    if not 0 < target < rest.flow:
        raise InputError("No piece can bring the stack to this: the rest alone flows no more.", "target")
    value = alone(target, rest.flow)
    working = Working(
        "What the piece must flow",
        (Given("Q_t", "target through the stack", target, "flow"), Given("Q_1", rest.name, rest.flow, "flow")),
        (Step("Q_p", "1/√(1/Q_t² − 1/Q_1²)", value, "flow"),),
        SOURCE,
        (CAUTION,),
    )
    return Figure("needed", "Must flow alone", value, "flow", working, significant=3)


@dataclass(frozen=True)
class StackStep:
    """One piece added: the state with it, what it cost, what it would flow alone (None inside the noise), its share."""

    piece: str
    state: StackState
    loss: Figure
    alone: Figure | None
    share: Figure | None


@dataclass(frozen=True)
class Stack:
    """A stack from its first state on, the steps in order, and the name of the piece that takes the largest drop."""

    first: StackState
    first_share: Figure
    steps: tuple[StackStep, ...]
    limit: str


def analyse(states: Sequence[StackState]) -> Stack:
    """States in the order in which pieces were bolted on, each with its flow [m3/s].

    Raises InputError for fewer than two states.
    """
    if len(states) < 2:
        raise InputError("A stack needs two states or more: the head alone, then with the manifold.", "stack")
    whole = states[-1]
    first_share = drop_share_figure(states[0].name, states[0].flow, whole)
    steps, shares = [], {states[0].name: first_share.value}
    for rest, state in pairwise(states):
        piece = state.name.removeprefix(rest.name).strip(" +") or state.name
        try:
            by_itself = alone_figure(rest, state)
        except InputError:
            by_itself = None
        share = drop_share_figure(piece, by_itself.value, whole) if by_itself else None
        shares[piece] = share.value if share else 0.0
        steps.append(StackStep(piece, state, loss_figure(rest, state), by_itself, share))
    return Stack(states[0], first_share, tuple(steps), max(shares, key=lambda name: shares[name]))


def pressure_at_flow(
    flow: float, pressure: float, wanted: float, name: str = "the part", uncertainty: float | None = None
) -> Figure:
    """Pressure drop [Pa] at which a part passes `wanted` [m3/s], from `flow` [m3/s, ± uncertainty] read at `pressure` [Pa].

    Raises InputError unless all are more than nought. Source: Δp ∝ Q², first principles.
    """
    if min(flow, pressure, wanted) <= 0:
        raise InputError("Flows and pressures must be more than nought.", "flow")
    value = pressure * (wanted / flow) ** 2
    working = Working(
        f"Back pressure of {name} at equal flow",
        (
            Given("Q", "flow at the test pressure", flow, "flow"),
            Given("Δp_t", "test pressure", pressure, "column"),
            Given("Q_e", "flow asked for", wanted, "flow"),
        ),
        (Step("Δp", "Δp_t·(Q_e/Q)²", value, "column"),),
        "Turbulent loss, Δp ∝ Q², first principles.",
        (
            "Cold and steady on the bench. On the engine the gas is hot and comes in pulses: for ranking parts, not for a figure "
            "of the running engine.",
        ),
    )
    spread = 2.0 * value * uncertainty / flow if uncertainty else None
    return Figure("back_pressure", "Back pressure at equal flow", value, "column", working, spread, significant=3)
