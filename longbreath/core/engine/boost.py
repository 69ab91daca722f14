"""What boost does: pressure and temperature through compressor and cooler, power at another boost, the turbine's side."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from longbreath.core.air.gases import AIR, BURNED
from longbreath.core.basis.errors import InputError, positive
from longbreath.core.basis.working import Figure, Given, Step, reckoned

KAPPA = (AIR.gamma - 1.0) / AIR.gamma
FIRST = "First principles: isentropic compression over an efficiency, perfect gas."
PRACTICE = "Common practice (pressure-ratio law): a planning index, not the physics of one engine."


@dataclass(frozen=True)
class Charge:
    """A compressor and its cooler: room pressure [Pa] and temperature [K], boost in the manifold [Pa, gauge], pressure lost
    before the compressor and in the cooler [Pa], compressor efficiency [1], cooler effectiveness [1] (0: none)."""

    pressure: float
    temperature: float
    boost: float
    depression: float = 0.0
    cooler_drop: float = 0.0
    efficiency: float = 0.70
    effectiveness: float = 0.0

    def __post_init__(self) -> None:
        positive(pressure=self.pressure, temperature=self.temperature, efficiency=self.efficiency)
        if self.boost < 0:
            raise InputError("A boost is nought or more, above the room's pressure.", "boost")
        if not 0 <= self.effectiveness <= 1:
            raise InputError("A cooler's effectiveness lies between 0 (none) and 100 %.", "effectiveness")
        if self.efficiency > 1:
            raise InputError("No compressor is better than 100 %.", "efficiency")
        if not 0 <= self.depression < 0.5 * self.pressure:
            raise InputError("What is lost before the compressor is less than half the room's pressure.", "depression")
        if self.cooler_drop < 0:
            raise InputError("A loss is nought or more.", "cooler_drop")

    @property
    def manifold(self) -> float:
        """Absolute pressure in the manifold [Pa]."""
        return self.pressure + self.boost

    @property
    def ratio(self) -> float:
        """Pressure ratio of the compressor itself [1]."""
        return (self.manifold + self.cooler_drop) / (self.pressure - self.depression)

    @property
    def hot(self) -> float:
        """Temperature after the compressor [K]."""
        return self.temperature * (1.0 + (float(self.ratio**KAPPA) - 1.0) / self.efficiency)

    @property
    def charge(self) -> float:
        """Temperature after the cooler [K]."""
        return self.hot - self.effectiveness * (self.hot - self.temperature)

    @property
    def density_ratio(self) -> float:
        """Charge density over the room's [1]."""
        return self.manifold / self.pressure * self.temperature / self.charge

    @property
    def givens(self) -> tuple[Given, ...]:
        """The inputs of every figure."""
        return (
            Given("p_0", "room pressure", self.pressure, "barometer"),
            Given("T_0", "room temperature", self.temperature, "temperature"),
            Given("p_b", "boost, gauge", self.boost, "pressure"),
            Given("η", "compressor efficiency", self.efficiency, "percent"),
            Given("ε", "cooler effectiveness", self.effectiveness, "percent"),
        )


def charge_figures(found: Charge) -> tuple[Figure, Figure, Figure, Figure]:
    """Pressure ratio, temperature after compressor and after cooler [K], density ratio. Source: first principles."""
    ratio = Step("Π", "(p_0 + p_b + Δp_c)/(p_0 − Δp_i)", found.ratio, "ratio")
    hot = Step("T_2", "T_0·(1 + (Π^0.286 − 1)/η)", found.hot, "temperature")
    cold = Step("T_3", "T_2 − ε·(T_2 − T_0)", found.charge, "temperature")
    dense = Step("ρ/ρ_0", "(p_0 + p_b)/p_0·T_0/T_3", found.density_ratio, "ratio")
    givens = (
        *found.givens,
        Given("Δp_i", "lost before the compressor", found.depression, "column"),
        Given("Δp_c", "lost in cooler and pipes", found.cooler_drop, "column"),
    )
    warm = ("The cooler is taken to be blown on by air of the room's temperature; heat soak makes it worse.",)
    return (
        reckoned("pressure_ratio", "Pressure ratio of the compressor", givens, (ratio,), "Definition."),
        reckoned("after_compressor", "After the compressor", givens, (ratio, hot), FIRST),
        reckoned("after_cooler", "After the cooler", givens, (ratio, hot, cold), FIRST, warm),
        reckoned("density_ratio", "Charge density over the room’s", givens, (ratio, hot, cold, dense), FIRST, warm),
    )


def power_at_boost(power: float, ambient: float, boost: float, other: float) -> Figure:
    """Power [W] expected at another boost by the pressure-ratio law: P·(p_0 + b_2)/(p_0 + b_1).

    power [W] at boost [Pa, gauge], other: the boost asked about [Pa, gauge], ambient [Pa]. Source: common practice.
    """
    positive(power=power, ambient=ambient)
    if boost < 0 or other < 0:
        raise InputError("A boost is nought or more.", "boost" if boost < 0 else "other")
    ratio = (ambient + other) / (ambient + boost)
    return reckoned(
        "by_ratio",
        "By the pressure-ratio law",
        (
            Given("P", "power now", power, "power"),
            Given("p_0", "room pressure", ambient, "barometer"),
            Given("b_1", "boost now", boost, "pressure"),
            Given("b_2", "boost asked about", other, "pressure"),
        ),
        (Step("r", "(p_0 + b_2)/(p_0 + b_1)", ratio, "ratio"), Step("P_2", "P·r", power * ratio, "power")),
        PRACTICE,
        ("The charge is taken to be as cool, the mixture as good and the turbine as willing as before.",),
    )


def power_by_density(power: float, now: Charge, then: Charge) -> tuple[Figure, Figure]:
    """Power [W] expected at another boost with the charge as warm as the compressor makes it: by density, and by √T.

    Source: common practice; the √T form is kinder to hot air.
    """
    positive(power=power)
    ratio = then.manifold / now.manifold
    warm = now.charge / then.charge
    givens = (
        Given("P", "power now", power, "power"),
        Given("p_1", "manifold now, absolute", now.manifold, "pressure"),
        Given("p_2", "manifold then, absolute", then.manifold, "pressure"),
        Given("T_1", "charge now", now.charge, "temperature"),
        Given("T_2", "charge then", then.charge, "temperature"),
    )
    return (
        reckoned(
            "by_density",
            "By charge density",
            givens,
            (Step("P_2", "P·p_2/p_1·T_1/T_2", power * ratio * warm, "power"),),
            PRACTICE,
        ),
        reckoned(
            "by_root",
            "By density with √T",
            givens,
            (Step("P_2", "P·p_2/p_1·√(T_1/T_2)", power * ratio * sqrt(warm), "power"),),
            PRACTICE,
        ),
    )


def compressor_point(
    power: float, consumption: float, air_fuel_ratio: float, found: Charge
) -> tuple[Figure, Figure, Figure]:
    """Air mass flow [kg/s], the same referred to 288.15 K and 101.325 kPa, and pressure ratio: one point of a compressor.

    power [W], consumption: brake specific [kg/J]. Source: first principles; the reference is the standard atmosphere.
    """
    positive(power=power, consumption=consumption, air_fuel_ratio=air_fuel_ratio)
    mass = power * consumption * air_fuel_ratio
    entry = found.pressure - found.depression
    referred = mass * sqrt(found.temperature / 288.15) * 101325.0 / entry
    givens = (
        Given("P", "power", power, "power"),
        Given("b", "brake specific fuel consumption", consumption, "consumption"),
        Given("AFR", "air to fuel, by mass", air_fuel_ratio, "ratio"),
        Given("T_0", "air at the compressor", found.temperature, "temperature"),
        Given("p_1", "pressure at the compressor", entry, "barometer"),
    )
    flow = Step("ṁ", "P·b·AFR", mass, "mass_flow")
    step = Step("Π", "(p_0 + p_b + Δp_c)/(p_0 − Δp_i)", found.ratio, "ratio")
    return (
        reckoned("mass_flow", "Air", givens, (flow,), "First principles."),
        reckoned(
            "referred",
            "Air, referred to 15 °C and 1 013 hPa",
            givens,
            (flow, Step("ṁ_r", "ṁ·√(T_0/288.15 K)·101 325 Pa/p_1", referred, "mass_flow")),
            "First principles (similarity of flow).",
            ("Makers refer to other conditions: look at the axis of their chart before laying the point on it.",),
        ),
        reckoned(
            "pressure_ratio", "Pressure ratio of the compressor", (*givens, *found.givens), (step,), "Definition."
        ),
    )


def turbine_expansion(
    found: Charge, air_fuel_ratio: float, hot: float, turbine_efficiency: float, mechanical: float, after: float
) -> tuple[Figure, Figure, Figure]:
    """Expansion ratio [1] that drives the compressor, back pressure before the turbine [Pa, gauge], and over boost [1].

    hot: gas before the turbine [K]; efficiencies [1]; after: back pressure behind the turbine [Pa, gauge]. Work of turbine and
    compressor are equal; everything goes through the wheel. Raises InputError where the gas cannot drive it. Source: first
    principles.
    """
    positive(air_fuel_ratio=air_fuel_ratio, hot=hot, turbine_efficiency=turbine_efficiency, mechanical=mechanical)
    if after < 0:
        raise InputError("A back pressure is nought or more, above the room's.", "after")
    work = AIR.heat_capacity * (found.hot - found.temperature)
    share = 1.0 + 1.0 / air_fuel_ratio
    drop = work / (share * BURNED.heat_capacity * turbine_efficiency * mechanical * hot)
    if drop >= 0.95:
        raise InputError("The gas is too cool, or the wheels too poor, to drive this compressor.", "hot")
    power = (BURNED.gamma - 1.0) / BURNED.gamma
    expansion = (1.0 - drop) ** (-1.0 / power)
    before = (found.pressure + after) * expansion - found.pressure
    givens = (
        *found.givens,
        Given("T_4", "gas before the turbine", hot, "temperature"),
        Given("η_t", "turbine efficiency", turbine_efficiency, "percent"),
        Given("η_m", "mechanical efficiency", mechanical, "percent"),
        Given("p_5", "behind the turbine, gauge", after, "pressure"),
    )
    steps = (
        Step("x", "c_p·(T_2 − T_0)/((1 + 1/AFR)·c_pe·η_t·η_m·T_4)", drop, "ratio"),
        Step("Π_t", "(1 − x)^(−γ/(γ−1))", expansion, "ratio"),
    )
    step = Step("p_4", "(p_0 + p_5)·Π_t − p_0", before, "pressure")
    source = "First principles: the turbine gives what the compressor takes; burned gas γ 1.33, R 290."
    note = (
        "Mean pressures, everything through the wheel: with the gate open the turbine needs more expansion for the same work.",
    )
    over = Step("p_4/p_b", "before the turbine over boost", before / found.boost if found.boost else 0.0, "ratio")
    return (
        reckoned("expansion", "Expansion ratio of the turbine", givens, steps, source, note),
        reckoned("before", "Back pressure before the turbine", givens, (*steps, step), source, note),
        reckoned("over_boost", "Back pressure over boost", givens, (*steps, step, over), source, note),
    )


def say_expansion(over: Figure) -> str:
    """What back pressure over boost means, in a sentence (common practice)."""
    if over.value > 2.0:
        return "More than twice the boost: the turbine is small for this, and the cylinder keeps much burned gas."
    if over.value > 1.2:
        return "More than the boost, as most road turbos have it."
    return "About the boost or less: as good as it gets."
