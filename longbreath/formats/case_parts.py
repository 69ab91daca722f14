"""The parts of a simulation case as JSON: pipes, valves, ports, chambers. Units stand in the names; unknown keys are errors."""

from __future__ import annotations

from math import pi, radians
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Discriminator, Field, Tag, model_validator

from longbreath.core.basis.constants import ZERO_CELSIUS
from longbreath.core.basis.errors import InputError
from longbreath.core.bench.discharge import ValveGear
from longbreath.core.path.sections import Section, round_section, rounded_rectangle
from longbreath.core.wave import openings
from longbreath.core.wave.engine import Box, Chamber, Line, Throttle
from longbreath.core.wave.measured import bend_loss
from longbreath.core.wave.mesh import FLANGED, UNFLANGED, Array, PipePiece

Positive = Annotated[float, Field(gt=0)]
NotNegative = Annotated[float, Field(ge=0)]
Coefficient = Annotated[float, Field(gt=0, le=1)]


class CasePart(BaseModel):
    """Every object of a case: unknown keys are errors."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class PieceIn(CasePart):
    """A piece of pipe: round (`diameter_mm`), a rounded rectangle, or any section by area and perimeter; tapers to `exit_…` sizes."""

    length_mm: Positive
    diameter_mm: Positive | None = None
    width_mm: Positive | None = None
    height_mm: Positive | None = None
    corner_mm: NotNegative = 0.0
    area_mm2: Positive | None = None
    perimeter_mm: Positive | None = None
    exit_diameter_mm: Positive | None = None
    exit_area_mm2: Positive | None = None
    exit_perimeter_mm: Positive | None = None
    bend_deg: NotNegative = 0.0
    bend_radius_mm: Positive | None = None
    loss_k: NotNegative = 0.0
    roughness_mm: NotNegative = 0.01
    wall_c: float | None = None
    friction_factor: NotNegative = 1.0
    heat_factor: NotNegative = 1.0

    @model_validator(mode="after")
    def one_section(self) -> PieceIn:
        """One way of saying a section at the entry, at most one at the exit."""
        ways = (self.diameter_mm,), (self.width_mm, self.height_mm), (self.area_mm2, self.perimeter_mm)
        out = (self.exit_diameter_mm,), (self.exit_area_mm2, self.exit_perimeter_mm)
        if any(None in way and any(x is not None for x in way) for way in (*ways, *out)):
            raise ValueError("sizes come in pairs: width_mm and height_mm, or area_mm2 and perimeter_mm")
        if sum(None not in way for way in ways) != 1:
            raise ValueError("give diameter_mm, or width_mm and height_mm, or area_mm2 and perimeter_mm")
        if sum(None not in way for way in out) > 1:
            raise ValueError("give exit_diameter_mm, or exit_area_mm2 and exit_perimeter_mm")
        return self

    def _entry(self) -> Section:
        if self.diameter_mm is not None:
            return round_section(self.diameter_mm / 1000.0)
        if self.width_mm is not None and self.height_mm is not None:
            return rounded_rectangle(self.width_mm / 1000.0, self.height_mm / 1000.0, self.corner_mm / 1000.0)
        return Section((self.area_mm2 or 0.0) * 1e-6, (self.perimeter_mm or 0.0) / 1000.0)

    def _exit(self, entry: Section) -> Section:
        if self.exit_diameter_mm is not None:
            return round_section(self.exit_diameter_mm / 1000.0)
        if self.exit_area_mm2 is not None and self.exit_perimeter_mm is not None:
            return Section(self.exit_area_mm2 * 1e-6, self.exit_perimeter_mm / 1000.0)
        return entry

    def piece(self, wall: float) -> PipePiece:
        """As the core takes it; `wall` [K] where the case gives none."""
        entry = self._entry()
        exit_ = self._exit(entry)
        rough = self.roughness_mm / 1000.0
        loss = self.loss_k
        if self.bend_deg:
            radius = self.bend_radius_mm / 1000.0 if self.bend_radius_mm else None
            loss += bend_loss(entry, radians(self.bend_deg), radius, rough)
        temperature = wall if self.wall_c is None else self.wall_c + ZERO_CELSIUS
        return PipePiece(
            self.length_mm / 1000.0, entry, exit_, loss, rough, temperature, self.friction_factor, self.heat_factor
        )


def piece_in(piece: PipePiece) -> PieceIn:
    """A piece of the core as a case has it: its sections by area and perimeter, a bend's loss within its K."""
    return PieceIn(
        length_mm=piece.length * 1e3,
        area_mm2=piece.entry.area * 1e6,
        perimeter_mm=piece.entry.perimeter * 1e3,
        exit_area_mm2=piece.exit.area * 1e6,
        exit_perimeter_mm=piece.exit.perimeter * 1e3,
        loss_k=piece.loss,
        roughness_mm=piece.roughness * 1e3,
        wall_c=piece.wall - ZERO_CELSIUS,
        friction_factor=piece.friction,
        heat_factor=piece.heating,
    )


class VolumeIn(CasePart):
    """A volume in a line: air box, muffler."""

    volume_l: Positive
    exit_loss_k: NotNegative = 0.5


class ThrottleIn(CasePart):
    """A restriction between two pipes: its area times its coefficient."""

    throttle_area_mm2: Positive
    coefficient: Coefficient = 1.0


def _kind_of(value: Any) -> str:
    keys = value if isinstance(value, dict) else getattr(value, "__dict__", {})
    return "volume" if "volume_l" in keys else "throttle" if "throttle_area_mm2" in keys else "piece"


Item = Annotated[
    Annotated[PieceIn, Tag("piece")] | Annotated[VolumeIn, Tag("volume")] | Annotated[ThrottleIn, Tag("throttle")],
    Discriminator(_kind_of),
]


def line(items: list[Item], wall: float) -> Line:
    """A row of items as the core takes it; `wall` [K] of pieces that give none."""
    found: list[PipePiece | Box | Throttle] = []
    for item in items:
        if isinstance(item, PieceIn):
            found.append(item.piece(wall))
        elif isinstance(item, VolumeIn):
            found.append(Box(item.volume_l / 1000.0, item.exit_loss_k))
        else:
            found.append(Throttle(item.throttle_area_mm2 * 1e-6 * item.coefficient))
    return found


class BenchPoint(CasePart):
    """One lift on the flow bench: discharge coefficients on the curtain area, into and out of the cylinder."""

    lift_mm: Positive
    cd_in: Annotated[float, Field(gt=0, le=1.2)]
    cd_out: Annotated[float, Field(gt=0, le=1.2)]


class Valves(CasePart):
    """The valves of one port: sizes, lift, bench curve. `flow_factor` scales the coefficients."""

    count: Annotated[int, Field(ge=1, le=4)] = 1
    head_mm: Positive
    throat_mm: Positive
    stem_mm: NotNegative = 0.0
    lift_mm: Positive | None = None
    shape: Literal["sine squared", "parabola", "polynomial"] = "sine squared"
    lift_table: list[tuple[float, NotNegative]] = []
    bench: list[BenchPoint] = []
    flow_factor: Positive = 1.0

    def table(self, opens: float, closes: float) -> Array:
        """Effective areas over the cycle; opens, closes [rad after the firing dead centre].

        Angles of a lift table are degrees after the dead centre of gas exchange.
        """
        gear = ValveGear(self.count, self.head_mm / 1e3, self.throat_mm / 1e3, self.stem_mm / 1e3)
        flow = openings.usual_flow(gear, self.flow_factor)
        if self.bench:
            lifts, into, out = zip(
                *((b.lift_mm / 1e3, b.cd_in * self.flow_factor, b.cd_out * self.flow_factor) for b in self.bench),
                strict=True,
            )
            flow = openings.ValveFlow(gear, lifts, into, out)
        if self.lift_table:
            rows = [(2.0 * pi + radians(a), x / 1e3) for a, x in self.lift_table]
            return openings.poppet(opens, closes, flow, table=rows)
        if self.lift_mm is None:
            raise InputError("give lift_mm or lift_table", "valves")
        return openings.poppet(opens, closes, flow, self.lift_mm / 1e3, self.shape)


class IntakeValves(Valves):
    """Intake valves with their timing."""

    opens_before_tdc_deg: float
    closes_after_bdc_deg: float


class ExhaustValves(Valves):
    """Exhaust valves with their timing."""

    opens_before_bdc_deg: float
    closes_after_tdc_deg: float


class PistonPorts(CasePart):
    """Ports in the wall: upper edge below top dead centre, height, width of all together."""

    depth_mm: Positive
    height_mm: Positive
    width_mm: Positive
    coefficient: Coefficient = 0.7

    def table(self, bore: BoreAndStroke, skirt: bool = False) -> Array:
        """Effective areas over a turn."""
        return openings.piston_ports(
            self.depth_mm / 1e3,
            bore.stroke_mm / 1e3,
            bore.rod_mm / 1e3,
            self.width_mm / 1e3,
            self.height_mm / 1e3,
            self.coefficient,
            skirt,
        )


class Disc(CasePart):
    """A rotary disc: timing, the angle its window spans, area."""

    opens_before_tdc_deg: float
    closes_after_tdc_deg: float
    window_deg: Positive
    area_mm2: Positive
    coefficient: Coefficient = 0.8


class ReedIn(CasePart):
    """A reed: own frequency, damping, pressure that opens it fully, most lift, width of all petals, coefficients."""

    frequency_hz: Positive
    damping: NotNegative = 0.1
    full_kpa: Positive
    most_lift_mm: Positive
    width_mm: Positive
    coefficient_in: Coefficient = 0.7
    coefficient_out: Coefficient = 0.6


class SidePorts(CasePart):
    """A rotary port: timing as on the wheel of the shaft, ramp over which the rotor uncovers it, area."""

    opens_deg: float
    closes_deg: float
    ramp_deg: Positive = 60.0
    area_mm2: Positive
    coefficient: Coefficient = 0.7


class BoreAndStroke(CasePart):
    """The working chambers. For a rotary `rotor_cc` is one chamber's swept volume; bore and stroke are equivalents."""

    kind: Literal["four-stroke", "two-stroke", "rotary"]
    cylinders: Annotated[int, Field(ge=1, le=12)] = 1
    firing_order: list[int] | None = None
    bore_mm: Positive
    stroke_mm: Positive
    rod_mm: Positive
    compression_ratio: Annotated[float, Field(gt=1)]
    rotor_cc: Positive | None = None
    wall_c: float = 160.0
    film_factor: NotNegative = 1.0

    @model_validator(mode="after")
    def rotor_of_a_rotary(self) -> BoreAndStroke:
        """A rotary has a rotor, nothing else has."""
        if (self.kind == "rotary") != (self.rotor_cc is not None):
            raise ValueError("rotor_cc belongs to a rotary, and a rotary needs it")
        return self

    def chamber(self) -> Chamber:
        """As the core takes it."""
        return Chamber(
            self.bore_mm / 1e3,
            self.stroke_mm / 1e3,
            self.rod_mm / 1e3,
            self.compression_ratio,
            self.wall_c + ZERO_CELSIUS,
            self.film_factor,
            (self.rotor_cc or 0.0) * 1e-6,
        )


class BoostIn(CasePart):
    """A steady compressor before the inlet."""

    pressure_ratio: Annotated[float, Field(ge=1, le=6)]
    efficiency: Coefficient = 0.7
    cooler_effectiveness: Annotated[float, Field(ge=0, le=1)] = 0.0


class TurbineIn(CasePart):
    """A steady turbine between the collectors and the system."""

    area_mm2: Positive
    efficiency: Annotated[float, Field(gt=0, lt=1)] = 0.65
    inlet_l: Positive = 0.5
    outlet_l: Positive = 0.5


class IntakeIn(CasePart):
    """The inlet side. `runners`: one line for all cylinders, or one each, from the plenum to the valve."""

    inlet: list[Item] = []
    plenum_l: Positive | None = None
    runners: list[list[Item]]
    mouth_loss_k: NotNegative = 0.03
    runner_loss_k: NotNegative = 0.1
    mouth_end_radii: NotNegative = UNFLANGED
    runner_end_radii: NotNegative = FLANGED
    temperature_c: float = 40.0
    boost: BoostIn | None = None
    valves: IntakeValves | None = None
    ports: SidePorts | None = None


class ExhaustIn(CasePart):
    """The exhaust side, from the valve to the open. `groups`: which cylinders merge first."""

    primaries: list[list[Item]]
    groups: list[list[int]] | None = None
    collector: list[Item] = []
    system: list[Item] = []
    temperature_c: float = 600.0
    wall_c: float = 400.0
    turbine: TurbineIn | None = None
    tail_end_radii: NotNegative = UNFLANGED
    valves: ExhaustValves | None = None
    piston_ports: PistonPorts | None = None
    ports: SidePorts | None = None


class CaseIn(CasePart):
    """A two-stroke's crankcase: volume at bottom dead centre, transfers, and one kind of inlet.

    `strata`: 1 for a well-stirred cylinder, about 3 where the loop pushes burned gas out first.
    """

    volume_bdc_cc: Positive
    transfers: PistonPorts
    disc: Disc | None = None
    reed: ReedIn | None = None
    skirt_ports: PistonPorts | None = None
    strata: Annotated[float, Field(ge=1, le=20)] = 1.0


class BurnIn(CasePart):
    """A Wiebe burn, and the fuel."""

    fuel: Literal["petrol", "diesel", "E85", "ethanol", "methanol"] = "petrol"
    lambda_: Annotated[float, Field(gt=0.3, alias="lambda")] = 0.9
    efficiency: Coefficient = 0.88
    start_before_tdc_deg: float = 22.0
    length_deg: Positive = 58.0
    shape: NotNegative = 2.0


class FrictionIn(CasePart):
    """Chen and Flynn's constants."""

    constant_kpa: NotNegative = 40.0
    peak_share: NotNegative = 0.005
    speed_kpa: NotNegative = 9.0
    square_kpa: NotNegative = 0.09


class AirIn(CasePart):
    """The room, and the pressure behind the exhaust."""

    pressure_kpa: Positive = 99.0
    temperature_c: float = 25.0
    back_pressure_kpa: Positive | None = None


class GasIn(CasePart):
    """A perfect gas."""

    gamma: Annotated[float, Field(gt=1.05, lt=1.7)]
    r_j_kg_k: Positive
