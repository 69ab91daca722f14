"""What a simulated engine is made of: measured pipes, valves, chambers, combustion, friction. Data only, SI, checked."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import pi

from longbreath.core.air.gases import AIR, BURNED, Gas
from longbreath.core.basis.errors import InputError
from longbreath.core.wave.mesh import FLANGED, UNFLANGED, Array, PipePiece
from longbreath.core.wave.parts import Reed


@dataclass(frozen=True)
class Box:
    """A volume in a line: plenum, air box, muffler. Size [m3]; loss of what leaves it into the next pipe [1]."""

    size: float
    exit_loss: float = 0.5

    def __post_init__(self) -> None:
        if not self.size > 0:
            raise InputError("A volume must be more than nought.", "volume")


@dataclass(frozen=True)
class Throttle:
    """A restriction between two pipes, by its effective area [m2]."""

    area: float

    def __post_init__(self) -> None:
        if not self.area > 0:
            raise InputError("An effective area must be more than nought.", "area")


Line = Sequence[PipePiece | Box | Throttle]
"""A row of pieces, boxes and throttles in the direction of flow; it begins and ends with a piece."""


@dataclass(frozen=True)
class Air:
    """The room: pressure [Pa], temperature [K]; pressure behind the exhaust [Pa]."""

    pressure: float = 101325.0
    temperature: float = 298.15
    exhaust_pressure: float = 101325.0


@dataclass(frozen=True)
class Boost:
    """A steady compressor before the inlet: pressure ratio and isentropic efficiency [1], effectiveness of the cooler [1]."""

    ratio: float
    efficiency: float = 0.7
    cooling: float = 0.0

    def __post_init__(self) -> None:
        if not (self.ratio >= 1 and 0 < self.efficiency <= 1 and 0 <= self.cooling <= 1):
            raise InputError("A pressure ratio from 1 up, an efficiency and a cooling up to 1.", "boost")

    def supply(self, air: Air, gas: Gas) -> tuple[float, float]:
        """Pressure [Pa] and temperature [K] behind compressor and cooler: T·(1 + (r^((γ−1)/γ) − 1)/η), cooled towards the room."""
        rise = air.temperature * (self.ratio ** ((gas.gamma - 1.0) / gas.gamma) - 1.0) / self.efficiency
        return air.pressure * self.ratio, air.temperature + rise * (1.0 - self.cooling)


@dataclass(frozen=True)
class Turbine:
    """A steady turbine between collectors and system: effective area [m2], efficiency [1], volumes of its housings [m3]."""

    area: float
    efficiency: float = 0.65
    inlet: float = 5e-4
    outlet: float = 5e-4

    def __post_init__(self) -> None:
        if not (min(self.area, self.inlet, self.outlet) > 0 and 0 < self.efficiency < 1):
            raise InputError("A turbine has an area, housings and an efficiency below 1.", "turbine")


@dataclass(frozen=True)
class Burn:
    """Wiebe burn: start before the firing dead centre [rad], length [rad], shape [1]; heat per mass of fresh gas [J/kg]."""

    start: float = 0.42
    length: float = 1.05
    shape: float = 2.0
    heat: float = 2.5e6

    def __post_init__(self) -> None:
        if not (self.length > 0 and self.shape >= 0 and self.heat >= 0):
            raise InputError("A burn has a length; its heat is not negative.", "burn")


RICHEST, LEANEST = 0.8, 1.2
"""Where the spark-ignition curve holds, λ [1]; a diesel burns all from the leanest on."""


def burned_share(ratio: float, spark: bool = True) -> float:
    """Share of the fuel's heat set free [1] at λ `ratio` [1]: −1.6082 + 4.6509·λ − 2.0764·λ², 1 at the most.

    Source: G. P. Blair's curve for spark ignition (from memory); per mass of air it is highest at λ 0.88, 3 % above λ 1.
    A diesel (spark False) sets all free from λ 1.2 on. Raises InputError outside 0.8 to 1.2, or richer than that (diesel).
    """
    if not spark:
        if not LEANEST <= ratio < 20.0:
            raise InputError(
                "A diesel's λ is taken from 1.2 up (below it smokes, and no curve is known here).", "lambda"
            )
        return 1.0
    if not RICHEST <= ratio <= LEANEST:
        raise InputError("λ is taken from 0.8 to 1.2: outside, no curve of what burns is known here.", "lambda")
    return min(-1.6082 + 4.6509 * ratio - 2.0764 * ratio**2, 1.0)


def burn_heat(
    heating_value: float, stoichiometric: float, ratio: float, efficiency: float, spark: bool = True
) -> float:
    """Heat per mass of air [J/kg]: η·η_λ·H/(AFR·λ); `heating_value` H [J/kg of fuel], `stoichiometric` AFR, `ratio` λ [1].

    η_λ by `burned_share`; `efficiency` η [1] holds what else is lost (crevices, blow-by). Raises InputError.
    """
    if not (heating_value > 0 and stoichiometric > 0 and ratio > 0 and 0 < efficiency <= 1):
        raise InputError("Heating value, air to fuel, λ and an efficiency up to 1 are needed.", "burn")
    return efficiency * burned_share(ratio, spark) * heating_value / (stoichiometric * ratio)


@dataclass(frozen=True)
class Friction:
    """Chen and Flynn's form (SAE 650733, constants from memory): a + b·p_max + c·S_p + d·S_p², [Pa], S_p mean piston speed [m/s]."""

    constant: float = 0.4e5
    peak: float = 0.005
    speed: float = 0.09e5
    square: float = 0.0009e5

    def pressure(self, peak_pressure: float, piston_speed: float) -> float:
        """Friction mean effective pressure [Pa] at a peak pressure [Pa] and mean piston speed [m/s]."""
        return self.constant + self.peak * peak_pressure + self.speed * piston_speed + self.square * piston_speed**2


@dataclass(frozen=True)
class Chamber:
    """One working chamber: bore, stroke, rod [m], compression ratio, wall temperature [K], factor on Hohenberg's film [1].

    `rotor`: swept volume [m3] of a rotary chamber instead of a crank; `stroke` is then an equivalent one for film and friction.
    """

    bore: float
    stroke: float
    rod: float
    ratio: float
    wall: float = 430.0
    film: float = 1.0
    rotor: float = 0.0

    def __post_init__(self) -> None:
        if min(self.bore, self.stroke) <= 0:
            raise InputError("Bore and stroke must be more than nought.", "bore")
        if not self.rotor and self.rod <= self.stroke / 2.0:
            raise InputError("A rod is longer than half the stroke.", "rod")
        if not self.ratio > 1:
            raise InputError("A compression ratio is more than 1.", "compression_ratio")

    @property
    def swept(self) -> float:
        """Swept volume [m3]."""
        return self.rotor or pi / 4.0 * self.bore**2 * self.stroke

    @property
    def clearance(self) -> float:
        """Smallest volume [m3]: swept/(ratio − 1)."""
        return self.swept / (self.ratio - 1.0)


@dataclass(frozen=True)
class Intake:
    """The inlet: line from the mouth to the plenum (may be empty), plenum [m3] or None (each runner in the open), the runners.

    runners: one line for all cylinders, or one each; mouth losses [1] and end corrections [radii] of the inlet's mouth
    (of the runners' mouths, if they stand in the open) and of the runners in the plenum.
    """

    runners: Sequence[Line]
    inlet: Line = ()
    plenum: float | None = None
    mouth_loss: float = 0.03
    runner_loss: float = 0.1
    temperature: float = 310.0
    boost: Boost | None = None
    mouth_end: float = UNFLANGED
    runner_end: float = FLANGED


@dataclass(frozen=True)
class Exhaust:
    """The exhaust: primaries (one line for all, or one each), groups of cylinders (from 1) that merge, the line after each
    group, and the line after all of them (may be empty: every group ends in the open); end correction of the tail [radii]."""

    primaries: Sequence[Line]
    groups: Sequence[Sequence[int]]
    collector: Line = ()
    system: Line = ()
    temperature: float = 850.0
    turbine: Turbine | None = None
    tail_end: float = UNFLANGED


@dataclass(frozen=True)
class Scavenging:
    """A two-stroke's case: volume at bottom dead centre of what the piston sweeps out [m3, at its smallest], transfer table
    [m2] over a turn, and what lets the charge into the case: a table, or a reed with its coefficients out of and into the case.
    strata: what leaves the cylinder holds (fresh share)^strata of fresh gas; 1 is well stirred, about 3 a good loop.
    """

    case_volume: float
    transfer: Array
    inlet: Array | None = None
    reed: Reed | None = None
    coefficients: tuple[float, float] = (0.7, 0.7)
    strata: float = 1.0

    def __post_init__(self) -> None:
        if (self.inlet is None) == (self.reed is None):
            raise InputError("The case is let in by a disc or ports, or by a reed.", "inlet")
        if not self.case_volume > 0:
            raise InputError("A case has a volume.", "case_volume")
        if not 1.0 <= self.strata <= 20.0:
            raise InputError("Strata lie between 1 (well stirred) and 20.", "strata")


@dataclass(frozen=True)
class WaveEngine:
    """A whole model. Tables are on a wheel that starts at the firing dead centre of each chamber.

    kind: "four-stroke", "two-stroke" or "rotary" (three chambers a rotor; `cylinders` counts rotors); firing_order lists
    cylinders from 1; intake_table and exhaust_table [m2] out of and into the chamber; port_volume [m3] between the pipe
    and the chambers of a rotor; samples of a trace per cycle.
    """

    name: str
    kind: str
    chamber: Chamber
    intake: Intake
    exhaust: Exhaust
    exhaust_table: Array
    intake_table: Array | None = None
    cylinders: int = 1
    firing_order: Sequence[int] = (1,)
    burn: Burn = field(default_factory=Burn)
    friction: Friction = field(default_factory=Friction)
    air: Air = field(default_factory=Air)
    scavenging: Scavenging | None = None
    port_volume: float = 6e-5
    cell: float = 0.012
    fresh: Gas = AIR
    burned: Gas = BURNED
    samples: int = 720

    def __post_init__(self) -> None:
        if self.kind not in CYCLES:
            raise InputError(f"An engine is one of: {', '.join(CYCLES)}.", "kind")
        if not 1 <= self.cylinders <= 12:
            raise InputError("The model takes 1 to 12 cylinders.", "cylinders")
        numbers = list(range(1, self.cylinders + 1))
        if sorted(self.firing_order) != numbers:
            raise InputError(f"The firing order names each of the {self.cylinders} cylinders once.", "firing_order")
        if sorted(k for group in self.exhaust.groups for k in group) != numbers:
            raise InputError(f"The exhaust groups name each of the {self.cylinders} cylinders once.", "groups")
        for name, lines in (("runners", self.intake.runners), ("primaries", self.exhaust.primaries)):
            if len(lines) not in (1, self.cylinders):
                raise InputError(f"Give one line of {name} for all cylinders, or one for each.", name)
        if (self.kind == "two-stroke") != (self.scavenging is not None):
            raise InputError("A two-stroke, and only that, has a case that scavenges it.", "scavenging")
        if self.kind != "two-stroke" and self.intake_table is None:
            raise InputError("The intake needs its timing.", "intake")

    @property
    def cycle(self) -> float:
        """Angle of one cycle of a chamber [rad of crank or shaft]."""
        return CYCLES[self.kind]

    @property
    def displacement(self) -> float:
        """Swept per turn of a two-stroke, per two turns of a four-stroke, per three turns of a rotary [m3]."""
        return self.cylinders * self.chamber.swept * (3 if self.kind == "rotary" else 1)

    @property
    def piston_travel(self) -> float:
        """Mean piston speed over crank speed [m/rad]: S/π."""
        return self.chamber.stroke / pi


CYCLES = {"four-stroke": 4.0 * pi, "two-stroke": 2.0 * pi, "rotary": 6.0 * pi}
