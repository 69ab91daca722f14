"""What a bench's meter shows, carried to volume flow at the inlet of the part: percentage, orifice plate, direct flow."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import sqrt

from fluids.flow_meter import differential_pressure_meter_solver

from longbreath.core.air.moist import Weather, density, viscosity
from longbreath.core.basis.constants import GAMMA_AIR
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Given, Step

RULES = {
    "none": "no correction: both airs are the same",
    "temperature": "√(T_in/T_m): calibrated with a plate at the test pressure",
    "state": "√(p_m·T_in/(p_in·T_m)): scale made for the air of the room",
    "volume": "p_m·T_in/(p_in·T_m): counts true volume (turbine, rotary)",
}
ISO = "ISO 5167-2 orifice plate (Reader-Harris/Gallagher, expansibility), computed by the fluids library."
TAPS = ("corner", "flange", "D and D/2")
_TAP_NAMES = {"corner": "corner", "flange": "flange", "D and D/2": "D"}


@dataclass(frozen=True)
class Orifice:
    """An orifice plate of bore `plate` [m] in a pipe of inside diameter `pipe` [m], with its pressure taps."""

    plate: float
    pipe: float
    taps: str = "corner"

    def __post_init__(self) -> None:
        if self.plate <= 0 or self.pipe <= 0:
            raise InputError("Plate and pipe need a diameter of more than nought.", "plate_diameter")
        if not 0.1 <= self.beta <= 0.75:
            raise InputError(
                f"Plate over pipe is {self.beta:.2f}; ISO 5167 holds from 0.10 to 0.75. Choose another plate.",
                "plate_diameter",
            )
        if self.taps not in TAPS:
            raise InputError(f"Pressure taps are one of: {', '.join(TAPS)}.", "taps")

    @property
    def beta(self) -> float:
        """Plate over pipe diameter."""
        return self.plate / self.pipe


@dataclass(frozen=True)
class MeterAir:
    """The air at the inlet of the part and at the meter: `inlet` is the room, `temperature` [K] and `pressure` [Pa]
    (absolute) are those before the meter."""

    inlet: Weather
    temperature: float
    pressure: float

    @classmethod
    def read(cls, inlet: Weather, before: float, column: float, direction: str) -> MeterAir:
        """The airs of a reading at a test pressure `column` [Pa], with `before` [K] before the meter.

        On the intake the meter comes after the part, under its suction; on the exhaust it breathes the room.
        """
        suction = max(column, 0.0) if direction == "intake" else 0.0
        return cls(inlet, before, inlet.pressure - suction)

    def factor(self, rule: str) -> float:
        """What a shown flow is multiplied by to be volume flow at the inlet, by one of RULES.

        Source: conservation of mass, first principles; √(T_in/T_m) alone is common practice.
        """
        if rule not in RULES:
            raise InputError(f"A temperature rule is one of: {', '.join(RULES)}.", "temperature_rule")
        warm = self.inlet.temperature / self.temperature
        thin = self.pressure / self.inlet.pressure
        return {"none": 1.0, "temperature": sqrt(warm), "state": sqrt(thin * warm), "volume": thin * warm}[rule]


@lru_cache(maxsize=8192)
def orifice_flow(orifice: Orifice, drop: float, air: MeterAir) -> float:
    """Volume flow at the inlet of the part [m3/s] from the drop across an orifice plate [Pa].

    The mass flow by ISO 5167-2 with the density before the plate, over the density at the inlet of the part.
    Raises InputError for a drop of less than nought or of more than a quarter of the pressure before the plate.
    """
    if drop == 0:
        return 0.0
    if drop < 0:
        raise InputError("A drop across the plate cannot be negative. Swap the hoses.", "meter_drop")
    if drop > 0.25 * air.pressure:
        raise InputError(
            "ISO 5167 holds while the drop is under a quarter of the pressure before the plate. Take a larger plate.",
            "meter_drop",
        )
    before = Weather(air.temperature, air.pressure, 0.0)
    rho = density(before)
    mass = differential_pressure_meter_solver(
        D=orifice.pipe,
        D2=orifice.plate,
        P1=air.pressure,
        P2=air.pressure - drop,
        rho=rho,
        mu=viscosity(air.temperature),
        k=GAMMA_AIR,
        meter_type="ISO 5167 orifice",
        taps=_TAP_NAMES[orifice.taps],
    )
    return float(mass) / density(air.inlet)


def reynolds(orifice: Orifice, flow: float, air: MeterAir) -> float:
    """Reynolds number in the pipe before the plate, of a volume flow at the inlet [m3/s]."""
    mass = flow * density(air.inlet)
    return 4.0 * mass / (3.141592653589793 * orifice.pipe * viscosity(air.temperature))


def orifice_notes(orifice: Orifice, flow: float, air: MeterAir) -> tuple[str, ...]:
    """Where ISO 5167-2 does not strictly hold for this plate and flow [m3/s]."""
    notes = []
    if not 0.05 <= orifice.pipe <= 1.0 or orifice.plate < 0.0125:
        notes.append("ISO 5167 holds for pipes of 50 to 1000 mm and plates of 12.5 mm or more: outside it here.")
    if flow > 0 and reynolds(orifice, flow, air) < 5000:
        notes.append("ISO 5167 holds from a Reynolds number of 5000 in the pipe: below it here.")
    return tuple(notes)


@dataclass(frozen=True)
class MeterReading:
    """One point as it was read.

    One of: `full_scale` [m3/s] with `percent` [0..1]; `direct` [m3/s]; `drop` [Pa] with its `orifice`. `pressure` [Pa]
    is the test pressure at the moment of reading. `flow_resolution` [m3/s], `pressure_resolution` [Pa] and
    `drop_resolution` [Pa] are the smallest steps shown; `spread` is the standard deviation of the settle window as a
    share of the reading, of `samples` samples. `air` and `rule` carry the flow to the inlet.
    """

    pressure: float
    full_scale: float | None = None
    percent: float | None = None
    direct: float | None = None
    flow_resolution: float = 0.0
    pressure_resolution: float = 0.0
    row: str = ""
    drop: float | None = None
    orifice: Orifice | None = None
    drop_resolution: float = 0.0
    air: MeterAir | None = None
    rule: str = "none"
    spread: float = 0.0
    samples: int = 1

    def __post_init__(self) -> None:
        if self.pressure <= 0:
            raise InputError("The pressure at which it was read must be more than nought.", "pressure")
        ways = (
            self.direct is not None,
            self.percent is not None and self.full_scale is not None,
            self.drop is not None,
        )
        if sum(ways) != 1:
            raise InputError("Give either range and percentage, or a direct flow, not both.", "percent")
        if self.drop is not None and (self.orifice is None or self.air is None):
            raise InputError("A drop across a plate needs the plate and the air before it.", "meter_drop")
        if self.percent is not None and not 0 <= self.percent <= 1:
            raise InputError("A percentage of a range lies between 0 and 100 %. Use the next range.", "percent")
        if self.direct is not None and self.direct < 0:
            raise InputError("A flow cannot be negative. Swap the hoses or the direction.", "direct_flow")

    @property
    def factor(self) -> float:
        """What the shown flow is multiplied by to be flow at the inlet (an orifice already gives that)."""
        return 1.0 if self.air is None or self.drop is not None else self.air.factor(self.rule)

    @property
    def shown(self) -> float:
        """Flow as shown by the meter [m3/s]."""
        if self.direct is not None:
            return self.direct
        if self.drop is not None and self.orifice is not None and self.air is not None:
            return orifice_flow(self.orifice, self.drop, self.air)
        return (self.full_scale or 0.0) * (self.percent or 0.0)

    @property
    def gross(self) -> float:
        """Volume flow at the inlet, leak included [m3/s]."""
        return self.shown * self.factor

    @property
    def meter_uncertainty(self) -> float:
        """Standard uncertainty of `gross` by the meter's step and the settle window [m3/s]."""
        step = self.flow_resolution * self.factor
        if self.drop:
            step = self.gross * 0.5 * self.drop_resolution / self.drop
        return sqrt(step**2 / 12.0 + (self.gross * self.spread) ** 2 / max(self.samples, 1))

    def givens(self) -> tuple[Given, ...]:
        """What was read, for a working."""
        if self.direct is not None:
            read = [Given("Q_g", "flow as read", self.direct, "flow", self.row)]
        elif self.drop is not None and self.orifice is not None:
            read = [
                Given("d", "bore of the plate", self.orifice.plate, "length"),
                Given("D", "inside of the pipe", self.orifice.pipe, "length"),
                Given("Δp_m", "drop across the plate", self.drop, "column", self.row),
            ]
        else:
            read = [
                Given("Q_fs", "full-scale flow of the range", self.full_scale or 0.0, "flow", self.row),
                Given("x", "percentage of the range", self.percent or 0.0, "percent", self.row),
            ]
        if self.air is not None and (self.rule != "none" or self.drop is not None):
            read += [
                Given("T_in", "air at the inlet", self.air.inlet.temperature, "temperature"),
                Given("T_m", "air before the meter", self.air.temperature, "temperature"),
                Given("p_m", "pressure before the meter", self.air.pressure, "barometer"),
            ]
        return tuple(read)

    def steps(self) -> list[Step]:
        """From what was read to the gross flow at the inlet, for a working."""
        if self.drop is not None:
            return [Step("Q_g", "ISO 5167: C·ε/√(1 − β⁴)·π/4·d²·√(2·Δp_m·ρ_m)/ρ_in", self.gross, "flow")]
        steps = [Step("Q_g", "as read" if self.direct is not None else "Q_fs·x", self.shown, "flow")]
        if self.factor != 1.0:
            steps.append(Step("Q_in", f"Q_g·{RULES[self.rule].split(':')[0]}", self.gross, "flow"))
        return steps

    def notes(self) -> tuple[str, ...]:
        """Remarks on the meter, for a working."""
        if self.drop is not None and self.orifice is not None and self.air is not None:
            return orifice_notes(self.orifice, self.gross, self.air)
        return ()
