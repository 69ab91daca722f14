"""What the engine asks of its air path: displacement, air demand, section velocity, Mach index, section for power."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi

from longbreath.core.air.moist import speed_of_sound
from longbreath.core.basis.errors import InputError, positive
from longbreath.core.basis.working import Figure, Given, Step, Working

STROKES = {"four-stroke": 4, "two-stroke": 2, "rotary": 2}
"""Strokes per cycle by kind of engine: a rotor's chamber draws once a turn of the shaft, as a two-stroke does."""
ROTOR_DRAWS = 1.5 * pi
"""Angle of the shaft over which a rotor's chamber grows [rad]: a quarter of its 1080°. First principles."""
FIRST_PRINCIPLES = "First principles (quasi-steady, incompressible)."


@dataclass(frozen=True)
class EngineGeometry:
    """Geometry that air demand needs: bore, stroke [m], number of cylinders, strokes per cycle (4 or 2).

    chamber: displacement of one chamber of a rotor [m3]; bore and stroke are then nought, and its cylinders are rotors.
    """

    bore: float
    stroke: float
    cylinders: int
    strokes: int = 4
    chamber: float | None = None

    def __post_init__(self) -> None:
        if self.chamber is None and (self.bore <= 0 or self.stroke <= 0):
            raise InputError("Bore and stroke must be more than nought.", "bore")
        if self.chamber is not None and self.chamber <= 0:
            raise InputError("A rotor's chamber must be more than nought.", "chamber_volume")
        if self.cylinders < 1:
            raise InputError("An engine has at least one cylinder.", "cylinders")
        if self.strokes not in (2, 4):
            raise InputError("Strokes per cycle are 4 or 2.", "strokes")

    @property
    def displacement(self) -> float:
        """Swept volume of all cylinders, or of one chamber of each rotor [m3]."""
        return self.cylinders * (self.chamber or pi / 4.0 * self.bore**2 * self.stroke)

    def mean_piston_speed(self, speed: float) -> float:
        """2 S N [m/s] at `speed` [rad/s]. Raises InputError for a rotor, which has no piston."""
        if self.chamber is not None:
            raise InputError("A rotor has no piston, and no piston speed.", "stroke")
        return self.stroke * speed / pi

    def drawing_flow(self, speed: float) -> float:
        """Mean volume flow [m3/s] into one cylinder while it draws: its volume over half a turn, of a rotor over three quarters."""
        return self.displacement / self.cylinders * speed / (pi if self.chamber is None else ROTOR_DRAWS)


def _engine_givens(engine: EngineGeometry, speed: float) -> tuple[Given, ...]:
    sizes: tuple[Given, ...] = (
        Given("B", "bore", engine.bore, "length"),
        Given("S", "stroke", engine.stroke, "length"),
    )
    if engine.chamber is not None:
        sizes = (Given("V_c", "chamber of one rotor", engine.chamber, "volume"),)
    count = "cylinders" if engine.chamber is None else "rotors"
    return (*sizes, Given("n", count, engine.cylinders, "count"), Given("N", "engine speed", speed, "speed"))


def air_demand(engine: EngineGeometry, speed: float, filling: float) -> Figure:
    """Volume flow of air [m3/s] that the engine takes at `speed` [rad/s] and volumetric efficiency `filling` [1].

    Q = V_d · N · filling / (revolutions per cycle). Raises InputError for a speed or filling of nought or less.
    Source: first principles (cfm = in³·rpm·VE/3456 for four strokes).
    """
    if speed <= 0:
        raise InputError("Engine speed must be more than nought.", "speed")
    if not 0 < filling <= 3:
        raise InputError("Volumetric efficiency must lie between 0 and 300 %.", "filling")
    revolutions = engine.strokes / 2.0
    flow = engine.displacement * speed / (2.0 * pi) / revolutions * filling
    working = Working(
        "Air demand",
        (*_engine_givens(engine, speed), Given("η", "volumetric efficiency", filling, "percent")),
        (
            Step("V_d", "n·V_c" if engine.chamber is not None else "n·π/4·B²·S", engine.displacement, "volume"),
            Step("Q", f"V_d·N·η/{revolutions:g}", flow, "flow"),
        ),
        FIRST_PRINCIPLES,
        ("Volume at the density of the air in front of the mouth.",),
    )
    return Figure("air_demand", "Air demand", flow, "flow", working, significant=3)


def gas_velocity(engine: EngineGeometry, speed: float, area: float) -> Figure:
    """Mean gas velocity [m/s] in one cylinder's section of `area` [m2] over its intake stroke.

    v = S_p · A_piston / A. Raises InputError for an area of nought or less. Source: first principles
    (piston-area rule, mean piston speed; the momentary peak is about 1.6 times as much).
    """
    if area <= 0:
        raise InputError("A section's area must be more than nought.", "area")
    velocity = engine.drawing_flow(speed) / area
    if engine.chamber is None:
        steps: tuple[Step, ...] = (
            Step("S_p", "2·S·N", engine.mean_piston_speed(speed), "velocity"),
            Step("A_p", "π/4·B²", pi / 4.0 * engine.bore**2, "area"),
            Step("v", "S_p·A_p/A", velocity, "velocity"),
        )
    else:
        flow = Step("Q_c", "V_c·N/(3/4)", engine.drawing_flow(speed), "flow")
        steps = (flow, Step("v", "Q_c/A", velocity, "velocity"))
    working = Working(
        "Mean gas velocity in the section",
        (*_engine_givens(engine, speed), Given("A", "area of the section", area, "area")),
        steps,
        FIRST_PRINCIPLES,
        ("Mean over the intake stroke, cylinder filled to its displacement.",),
    )
    return Figure("gas_velocity", "Mean gas velocity", velocity, "velocity", working, significant=3)


def mach_index(
    engine: EngineGeometry, speed: float, area: float, temperature: float, flow_coefficient: float = 1.0
) -> Figure:
    """Inlet Mach index of a section [1]: Z = A_p · S_p / (C · A · a).

    speed [rad/s], area [m2], temperature of the gas [K], mean flow coefficient C [1] (1 for a duct, 0.3 to 0.4
    for a valve on its head area). Source: Taylor's form, from memory: filling falls when Z of the valves passes
    about 0.6.
    """
    if not 0 < flow_coefficient <= 1:
        raise InputError("A flow coefficient lies between 0 and 1.", "flow_coefficient")
    velocity = gas_velocity(engine, speed, area)
    sound = speed_of_sound(temperature)
    index = velocity.value / (flow_coefficient * sound)
    working = Working(
        "Mach index of the section",
        (
            *velocity.working.givens,
            Given("T", "gas temperature", temperature, "temperature"),
            Given("C", "mean flow coefficient", flow_coefficient, "ratio"),
        ),
        (
            *velocity.working.steps,
            Step("a", "√(1.4·287.05·T)", sound, "velocity"),
            Step("Z", "v/(C·a)", index, "ratio"),
        ),
        "Taylor, form from memory.",
        ("With C = 1 this is the Mach number of the mean flow in the duct.",),
    )
    return Figure("mach_index", "Mach index", index, "ratio", working, significant=3)


def section_for_power(
    power: float,
    speed: float,
    cylinders: int,
    velocity: float,
    consumption: float,
    air_fuel_ratio: float,
    density: float,
    strokes: int = 4,
) -> Figure:
    """Section per cylinder [m2] in which the air for `power` moves at the wanted mean `velocity`.

    power [W], speed [rad/s], velocity [m/s], consumption = brake specific fuel consumption [kg/J],
    air_fuel_ratio [1], density of the intake air [kg/m3]. All a cylinder's air passes in one stroke, so
    A = strokes · Q / (n · v). Raises InputError for values of nought or less. Source: first principles.
    """
    positive(power=power, speed=speed, velocity=velocity, consumption=consumption)
    positive(air_fuel_ratio=air_fuel_ratio, density=density, cylinders=cylinders)
    air_mass = power * consumption * air_fuel_ratio
    flow = air_mass / density
    area = strokes * flow / (cylinders * velocity)
    working = Working(
        "Section wanted for a power",
        (
            Given("P", "target power", power, "power"),
            Given("N", "at engine speed", speed, "speed"),
            Given("b", "brake specific fuel consumption", consumption, "consumption"),
            Given("AFR", "air to fuel, by mass", air_fuel_ratio, "ratio"),
            Given("ρ", "density of the intake air", density, "density"),
            Given("v", "mean velocity wanted", velocity, "velocity"),
            Given("n", "cylinders", cylinders, "count"),
        ),
        (
            Step("ṁ", "P·b·AFR", air_mass, "mass_flow"),
            Step("Q", "ṁ/ρ", flow, "flow"),
            Step("A", f"{strokes}·Q/(n·v)", area, "area"),
        ),
        "First principles; the velocity wanted is a school's choice (common practice, no source).",
        ("A runner too large for the power wanted costs torque.",),
    )
    return Figure("section", "Section per cylinder", area, "area", working, significant=3)


def power_from_torque(torque: float, speed: float) -> Figure:
    """Power [W] = torque [N m] × speed [rad/s]. Source: definition of mechanical power."""
    if speed < 0:
        raise InputError("Engine speed cannot be negative.", "speed")
    working = Working(
        "Power from torque and speed",
        (Given("T", "torque", torque, "torque"), Given("ω", "engine speed", speed, "speed")),
        (Step("P", "T·ω (ω in rad/s)", torque * speed, "power"),),
        "Definition (hp = lb-ft·rpm/5252).",
    )
    return Figure("power", "Power", torque * speed, "power", working)
