"""A row of measured elements: area, velocity, Mach number, pressure and each element's share of the loss."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import pi

from scipy.optimize import brentq

from longbreath.core.air.gases import AIR, BURNED, Gas, cooled
from longbreath.core.basis.errors import InputError
from longbreath.core.path import losses
from longbreath.core.path.kinds import COMPRESSOR, TURBINE, kind_of
from longbreath.core.path.losses import Loss, LossKind
from longbreath.core.path.sections import Section, smaller

DRAWN = 3.0e-6
"""Roughness of drawn tube [m] (handbook, from memory)."""
CAST = 2.5e-4
"""Roughness of a cast wall [m] (handbook, from memory)."""
MOST_PRESSURE = 8.0
"""A head pressure above this many times the room's is taken as choked."""
COMPRESSOR_EFFICIENCY, TURBINE_EFFICIENCY = 0.70, 0.65
"""Isentropic efficiencies taken where no outlet temperature was measured (common practice, no source)."""


@dataclass(frozen=True)
class PathElement:
    """One element for the core. Sections hold for one branch; `branches` equal ones lie beside each other.

    length, bend_radius (None: mitred), mouth_radius, roughness, burr, proud [m]; bend_angle [rad]; volume [m3] or None;
    drop [Pa] measured across one branch at drop_flow [m3/s]; round_area: area [m2] before squashing; outlet_temperature [K] or None;
    pressure_ratio [1] of a compressor (out/in) or turbine (in/out); open_share [1] of the entry that a flap or plate leaves open.
    """

    key: int
    name: str
    kind: str
    side: str
    length: float
    entry: Section
    exit: Section
    branches: int = 1
    roughness: float = DRAWN
    bend_angle: float = 0.0
    bend_radius: float | None = None
    mouth_radius: float = 0.0
    volume: float | None = None
    drop: float | None = None
    drop_flow: float | None = None
    burr: float = 0.0
    proud: float = 0.0
    round_area: float | None = None
    pressure_ratio: float | None = None
    outlet_temperature: float | None = None
    open_share: float = 1.0
    nominal: bool = False

    @property
    def is_volume(self) -> bool:
        """Whether the element is a volume into which the flow spreads."""
        return self.volume is not None and kind_of(self.kind).spreads

    @property
    def is_measured_across(self) -> bool:
        """Whether its own loss was measured: it then stands for all that happens between its flanges."""
        return self.drop is not None and bool(self.drop_flow)

    @property
    def tapers(self) -> bool:
        """Whether entry and exit differ by more than half a per cent of area."""
        return abs(self.exit.area / self.entry.area - 1.0) > 0.005


@dataclass(frozen=True)
class Duty:
    """What flows: air mass flow [kg/s], air to fuel [1], room pressure [Pa] and temperature [K], temperature of the gas
    at the exhaust port [K], heat transfer to the outside [W/(m2 K)] of the exhaust, cylinders and strokes.
    """

    air_mass_flow: float
    air_fuel_ratio: float = 12.8
    pressure: float = 101325.0
    temperature: float = 293.15
    exhaust_temperature: float = 1050.0
    heat_transfer: float = 30.0
    cylinders: int = 4
    strokes: int = 4

    def __post_init__(self) -> None:
        if self.air_mass_flow <= 0:
            raise InputError("A flow must be more than nought.", "flow")
        if self.air_fuel_ratio <= 0 or self.pressure <= 0 or self.temperature <= 0:
            raise InputError("This must be more than nought.", "air_fuel_ratio")
        if self.exhaust_temperature < self.temperature:
            raise InputError("The exhaust is hotter than the room.", "exhaust_temperature")

    def mass_flow(self, side: str) -> float:
        """Mean mass flow [kg/s] on a side: air, or air and fuel."""
        return self.air_mass_flow * (1.0 + 1.0 / self.air_fuel_ratio if side == "exhaust" else 1.0)

    def in_branch(self, side: str, branches: int) -> float:
        """Mass flow [kg/s] in one of `branches` [count] equal branches while it flows.

        A branch that serves m cylinders flows in m of the cycle's strokes at most: ṁ/b·max(1, strokes/m).
        """
        served = max(1.0, self.cylinders / branches)
        return self.mass_flow(side) / branches * max(1.0, self.strokes / served)


@dataclass(frozen=True)
class Station:
    """One place on the axis: x from the mouth of the side [m], area of one branch [m2], velocity [m/s], Mach [1],
    static and total pressure [Pa], temperature [K].
    """

    key: int
    x: float
    area: float
    velocity: float
    mach: float
    static: float
    total: float
    temperature: float


@dataclass(frozen=True)
class CountedLoss:
    """One part of an element's loss with its pressure drop [Pa], least and most by the methods."""

    loss: Loss
    drop: float
    low: float
    high: float
    dynamic: float


@dataclass(frozen=True)
class ElementLoss:
    """An element with its losses and the total pressure it costs [Pa]."""

    element: PathElement
    parts: tuple[CountedLoss, ...]
    flow: float
    reynolds: float

    @property
    def drop(self) -> float:
        """Total pressure lost [Pa]."""
        return sum(part.drop for part in self.parts)

    @property
    def low(self) -> float:
        """Least by the methods [Pa]."""
        return sum(part.low for part in self.parts)

    @property
    def high(self) -> float:
        """Most by the methods [Pa]."""
        return sum(part.high for part in self.parts)


@dataclass(frozen=True)
class Side:
    """One side of the path at one duty: pieces in order, stations, and the whole loss [Pa]."""

    side: str
    pieces: tuple[ElementLoss, ...]
    stations: tuple[Station, ...]
    gas: Gas
    duty: Duty

    @property
    def has_turbine(self) -> bool:
        """Whether a turbine takes work out of the gas: its pressure is no loss and not in `drop`."""
        return any(p.element.kind == TURBINE and p.element.pressure_ratio for p in self.pieces)

    @property
    def drop(self) -> float:
        """Total pressure lost over the side [Pa]."""
        return sum(piece.drop for piece in self.pieces)

    @property
    def low(self) -> float:
        """Least by the methods [Pa]."""
        return sum(piece.low for piece in self.pieces)

    @property
    def high(self) -> float:
        """Most by the methods [Pa]."""
        return sum(piece.high for piece in self.pieces)

    @property
    def weakest(self) -> ElementLoss | None:
        """The element that costs most."""
        return max(self.pieces, key=lambda piece: piece.drop, default=None)

    def share(self, piece: ElementLoss) -> float:
        """A piece's share [1] of the side's loss."""
        return piece.drop / self.drop if self.drop else 0.0


@dataclass
class _State:
    """The gas on its way: total pressure [Pa], temperature [K], place [m]."""

    total: float
    temperature: float
    x: float = 0.0


def flow_through(elements: Sequence[PathElement], side: str, duty: Duty) -> Side:
    """Walk the elements of a side in order and count what each costs.

    Intake: from rest in the room. Exhaust: the pressure at the head is found so that the gas leaves at the room's.
    Losses K·½·ρ·v² with the density on the spot; Mach numbers above 0.3 make it an estimate. Raises InputError for
    a flow that no pressure can drive. Source: first principles with coefficients by `fluids`.
    """
    chosen = tuple(e for e in elements if e.side == side)
    gas = BURNED if side == "exhaust" else AIR
    if side != "exhaust" or not chosen:
        return _walk(chosen, side, duty, gas, duty.pressure)[0]

    def too_low(start: float) -> float:
        try:
            return _walk(chosen, side, duty, gas, start)[1] - duty.pressure
        except InputError:
            return -duty.pressure

    highest = MOST_PRESSURE * duty.pressure
    if too_low(highest) < 0:
        _walk(chosen, side, duty, gas, highest)  # says where it is choked
        raise InputError("No pressure drives this flow through the exhaust.", "flow")
    start = duty.pressure if too_low(duty.pressure) >= 0 else brentq(too_low, duty.pressure, highest, xtol=0.5)
    return _walk(chosen, side, duty, gas, start)[0]


def _walk(elements: tuple[PathElement, ...], side: str, duty: Duty, gas: Gas, start: float) -> tuple[Side, float]:
    state = _State(start, duty.exhaust_temperature if side == "exhaust" else duty.temperature)
    pieces: list[ElementLoss] = []
    stations: list[Station] = []
    before: PathElement | None = None
    for number, element in enumerate(elements):
        piece, found = _pass(element, before, number == len(elements) - 1, side, duty, gas, state)
        pieces.append(piece)
        stations.extend(found)
        before = element
    return Side(side, tuple(pieces), tuple(stations), gas, duty), state.total


def _pass(
    element: PathElement, before: PathElement | None, last: bool, side: str, duty: Duty, gas: Gas, state: _State
) -> tuple[ElementLoss, list[Station]]:
    flow = duty.in_branch(side, element.branches)
    rho = gas.density(state.total, state.temperature)
    reynolds = flow * element.entry.hydraulic_diameter / (element.entry.area * gas.viscosity(state.temperature))
    parts = []
    for loss, section, branches in _losses(element, before, last and side == "exhaust", reynolds, duty):
        dynamic = 0.5 * rho * (duty.in_branch(side, branches) / (rho * section.area)) ** 2
        parts.append(CountedLoss(loss, loss.k * dynamic, loss.low * dynamic, loss.high * dynamic, dynamic))
    piece = ElementLoss(element, tuple(parts), flow, reynolds)
    at_mouth = sum(part.drop for part in parts[: _mouth_parts(parts)])
    first = _station(element, element.entry.area * element.open_share, flow, gas, _with_total(state, -at_mouth))
    state.total -= piece.drop
    if state.total < 0.3 * duty.pressure:
        raise InputError(f"No pressure drives this flow through {element.name}: it is choked there.", "flow")
    _machine(element, gas, state)
    state.temperature = _cooled(element, side, duty, gas, state.temperature)
    state.x += element.length
    return piece, [first, _station(element, element.exit.area, flow, gas, state)]


def _with_total(state: _State, change: float) -> _State:
    """The state with its total pressure changed by `change` [Pa]."""
    return _State(state.total + change, state.temperature, state.x)


def _mouth_parts(parts: Sequence[CountedLoss]) -> int:
    return sum(part.loss.kind in losses.AT_THE_MOUTH for part in parts)


def _station(element: PathElement, area: float, flow: float, gas: Gas, state: _State) -> Station:
    if element.is_volume:
        area = max(area, (element.volume or 0.0) / element.length)
    velocity = flow / (gas.density(state.total, state.temperature) * area)
    static = state.total - 0.5 * gas.density(state.total, state.temperature) * velocity**2
    mach = velocity / gas.speed_of_sound(state.temperature)
    return Station(element.key, state.x, area, velocity, mach, static, state.total, state.temperature)


Counted = tuple[Loss, Section, int]
"""A loss, the section of one branch on whose dynamic pressure it counts, and how many such branches there are."""


def _losses(
    element: PathElement, before: PathElement | None, opens: bool, reynolds: float, duty: Duty
) -> list[Counted]:
    """Losses of an element in the order of the flow."""
    n = element.branches
    if element.drop is not None and element.drop_flow:
        rho = AIR.density(duty.pressure, duty.temperature)
        own = losses.measured(element.drop, element.drop_flow, rho, element.entry)
        found = [(own, element.entry, n)]
    else:
        found = _entry_losses(element, before)
        if not element.is_volume:
            found += _wall_losses(element, reynolds)
    for what, height in (("burr", element.burr), ("gasket standing proud", element.proud)):
        if height:
            found.append((replace(losses.ring(element.entry, height), what=what), element.entry, n))
    if element.open_share < 1.0:
        found.append((losses.part_closed(element.open_share), element.entry, n))
    if opens and not element.is_volume:
        found.append((losses.exactly(LossKind.OPEN_END, "out into the open", 1.0, "the jet is lost"), element.exit, n))
    return found


def _entry_losses(element: PathElement, before: PathElement | None) -> list[Counted]:
    n = element.branches
    if before is None:
        if element.side == "exhaust" or element.is_volume:
            return []
        return [(losses.mouth(element.entry.equal_area_diameter, element.mouth_radius), element.entry, n)]
    if before.is_measured_across:
        return []
    if element.is_volume:
        jet = losses.exactly(LossKind.JET, "jet into a volume", 1.0, "the jet is lost")
        return [] if before.is_volume else [(jet, before.exit, before.branches)]
    if before.is_volume:
        return [(losses.mouth(element.entry.equal_area_diameter, element.mouth_radius), element.entry, n)]
    if before.branches != element.branches:
        return []  # a merge or split: its cost is what was measured across it
    step = losses.sudden(before.exit, element.entry)
    return [(step, smaller(before.exit, element.entry), n)] if step.k > 0 else []


def _wall_losses(element: PathElement, reynolds: float) -> list[Counted]:
    n = element.branches
    narrow = smaller(element.entry, element.exit)
    found: list[Counted] = []
    straight = element.length
    if element.bend_angle:
        turn = losses.bend(
            element.entry.hydraulic_diameter, element.bend_angle, element.bend_radius, reynolds, element.roughness
        )
        found.append((turn, element.entry, n))
        straight = max(0.0, straight - element.bend_angle * (element.bend_radius or 0.0))
    if element.tapers:
        cone = losses.cone(element.entry, element.exit, element.length, reynolds, element.roughness)
        found.append((cone, narrow, n))
    elif straight > 0:
        found.append((losses.friction(straight, element.entry, reynolds, element.roughness), element.entry, n))
    return found


def _machine(element: PathElement, gas: Gas, state: _State) -> None:
    """Compressor and turbine change pressure and temperature."""
    ratio = element.pressure_ratio
    if ratio is None or not kind_of(element.kind).machine:
        return
    power = (gas.gamma - 1.0) / gas.gamma
    if element.kind == COMPRESSOR:
        state.temperature *= 1.0 + (ratio**power - 1.0) / COMPRESSOR_EFFICIENCY
        state.total *= ratio
    else:
        state.temperature *= 1.0 - TURBINE_EFFICIENCY * (1.0 - ratio**-power)
        state.total /= ratio


def _cooled(element: PathElement, side: str, duty: Duty, gas: Gas, temperature: float) -> float:
    """Temperature [K] at the end of an element: measured, or what the exhaust loses to the outside on its way."""
    if element.outlet_temperature is not None:
        return element.outlet_temperature
    if side != "exhaust":
        return temperature
    surface = element.entry.perimeter * element.length * element.branches
    if element.is_volume:
        surface = pi * (4.0 * (element.volume or 0.0) / (pi * element.length)) ** 0.5 * element.length
    return cooled(temperature, duty.temperature, duty.heat_transfer, surface, duty.mass_flow(side), gas)
