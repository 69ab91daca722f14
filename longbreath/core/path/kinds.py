"""The kinds of element that a path is made of, each described once: its side, what it does to the flow, what it needs."""

from __future__ import annotations

from dataclasses import dataclass

INTAKE, ENGINE, EXHAUST = "intake", "engine", "exhaust"
SIDES = (INTAKE, ENGINE, EXHAUST)


@dataclass(frozen=True)
class ElementKind:
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
    ElementKind("bellmouth", INTAKE),
    ElementKind("stack", INTAKE),
    ElementKind("filter", INTAKE, spreads=True, own_loss=True),
    ElementKind("air box", INTAKE, spreads=True, holds=True, own_loss=True),
    ElementKind("tube", INTAKE, velocity=True),
    ElementKind("bend", INTAKE),
    ElementKind("cone", INTAKE),
    ElementKind("step", INTAKE),
    ElementKind("throttle", INTAKE, velocity=True),
    ElementKind("compressor", INTAKE, machine=True),
    ElementKind("intercooler", INTAKE, spreads=True, own_loss=True),
    ElementKind("plenum", INTAKE, spreads=True, holds=True),
    ElementKind("runner", INTAKE, velocity=True),
    ElementKind("port", INTAKE, velocity=True),
    ElementKind("valve", INTAKE),
    ElementKind("head", ENGINE),
    ElementKind("exhaust port", EXHAUST),
    ElementKind("primary", EXHAUST, velocity=True),
    ElementKind("merge", EXHAUST),
    ElementKind("collector", EXHAUST),
    ElementKind("turbine", EXHAUST, own_loss=True, machine=True),
    ElementKind("downpipe", EXHAUST),
    ElementKind("pipe", EXHAUST),
    ElementKind("catalyst", EXHAUST, own_loss=True),
    ElementKind("resonator", EXHAUST, spreads=True, own_loss=True),
    ElementKind("muffler", EXHAUST, spreads=True, own_loss=True),
    ElementKind("tip", EXHAUST),
)
KINDS = {kind.name: kind for kind in _ALL}
"""All kinds by name, from the mouth to the tail."""
UNKNOWN = ElementKind("", INTAKE)
"""What a name stands for that no kind has: a plain duct."""

# parts of the path that have a volume of their own to be told, by the kinds they are made of
RUNNER = "runner"
RUNNER_AND_PORT = ("runner", "port")
PRIMARY = ("exhaust port", "primary")
COMPRESSOR, TURBINE = "compressor", "turbine"
BEFORE_THE_CYLINDERS = ("throttle", "runner", "head")
AT_THE_VALVE = ("port", "valve")
"""Kinds whose flow is the cylinder's own on either side of the engine."""


def kind_of(name: str) -> ElementKind:
    """The kind of that name; a plain duct for a name that no kind has."""
    return KINDS.get(name, UNKNOWN)
