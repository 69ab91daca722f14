"""The kinds of element that a path is made of, each described once: its side, what it does to the flow, what it needs."""

from __future__ import annotations

from dataclasses import dataclass

INTAKE, ENGINE, EXHAUST = "intake", "engine", "exhaust"
SIDES = (INTAKE, ENGINE, EXHAUST)


@dataclass(frozen=True)
class Kind:
    """One kind of element.

    name: as people write it. side: where it usually is. spreads: the flow spreads in it when its volume is known, so the
    jet into it is lost and a new mouth leads out. holds: it has no meaning without a volume. own_loss: no formula gives
    its own loss, it is measured across it. velocity: gas velocity is asked in its section. machine: it adds or takes
    pressure (compressor, turbine).
    """

    name: str
    side: str
    spreads: bool = False
    holds: bool = False
    own_loss: bool = False
    velocity: bool = False
    machine: bool = False


_ALL = (
    Kind("bellmouth", INTAKE),
    Kind("stack", INTAKE),
    Kind("filter", INTAKE, spreads=True, own_loss=True),
    Kind("air box", INTAKE, spreads=True, holds=True, own_loss=True),
    Kind("tube", INTAKE, velocity=True),
    Kind("bend", INTAKE),
    Kind("cone", INTAKE),
    Kind("step", INTAKE),
    Kind("throttle", INTAKE, velocity=True),
    Kind("compressor", INTAKE, machine=True),
    Kind("intercooler", INTAKE, spreads=True, own_loss=True),
    Kind("plenum", INTAKE, spreads=True, holds=True),
    Kind("runner", INTAKE, velocity=True),
    Kind("port", INTAKE, velocity=True),
    Kind("valve", INTAKE),
    Kind("head", ENGINE),
    Kind("exhaust port", EXHAUST),
    Kind("primary", EXHAUST, velocity=True),
    Kind("merge", EXHAUST),
    Kind("collector", EXHAUST),
    Kind("turbine", EXHAUST, own_loss=True, machine=True),
    Kind("downpipe", EXHAUST),
    Kind("pipe", EXHAUST),
    Kind("catalyst", EXHAUST, own_loss=True),
    Kind("resonator", EXHAUST, spreads=True, own_loss=True),
    Kind("muffler", EXHAUST, spreads=True, own_loss=True),
    Kind("tip", EXHAUST),
)
KINDS = {kind.name: kind for kind in _ALL}
"""All kinds by name, from the mouth to the tail."""
UNKNOWN = Kind("", INTAKE)
"""What a name stands for that no kind has: a plain duct."""

# parts of the path that have a volume of their own to be told, by the kinds they are made of
RUNNER = "runner"
RUNNER_AND_PORT = ("runner", "port")
PRIMARY = ("exhaust port", "primary")
COMPRESSOR, TURBINE = "compressor", "turbine"
BEFORE_THE_CYLINDERS = ("throttle", "runner", "head")
AT_THE_VALVE = ("port", "valve")
"""Kinds whose flow is the cylinder's own on either side of the engine."""


def kind_of(name: str) -> Kind:
    """The kind of that name; a plain duct for a name that no kind has."""
    return KINDS.get(name, UNKNOWN)
