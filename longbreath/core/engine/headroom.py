"""What a sensor, an injector or a boost controller has left before the pull that would exceed it."""

from __future__ import annotations

from math import pi, sqrt

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working

STANDARD_PRESSURE = 101325.0
DUTY_LIMIT = 0.85
"""Injector duty above which none is left for a cold day or a rich cell (common practice, no source)."""
CONTROLLER_LIMIT = 0.90
"""Controller duty above which it cannot hold boost any more (common practice, no source)."""


def pressure_at(altitude: float) -> float:
    """Standard-atmosphere pressure [Pa] at `altitude` [m], up to 11 km: 101325·(1 − 2.25577e-5·h)^5.25588.

    Source: International Standard Atmosphere, constants from memory.
    """
    if not -500 <= altitude <= 11000:
        raise InputError("An altitude lies between −500 and 11,000 m.", "altitude")
    return STANDARD_PRESSURE * float((1.0 - 2.25577e-5 * altitude) ** 5.25588)


def sensor_figures(top: float, ambient: float, wanted: float) -> tuple[Figure, Figure]:
    """Highest boost a sensor can show here and what is left above the boost wanted [Pa].

    top: highest absolute pressure of the sensor [Pa]; ambient: station pressure [Pa]; wanted: boost above it [Pa].
    Source: definition of absolute and gauge pressure.
    """
    if top <= 0 or ambient <= 0 or wanted < 0:
        raise InputError("Pressures must be more than nought.", "top")
    ceiling, left = top - ambient, top - ambient - wanted
    givens = (
        Given("p_s", "top of the sensor, absolute", top, "pressure"), Given("p_0", "station pressure", ambient, "barometer"),
        Given("p_b", "boost wanted, gauge", wanted, "pressure"),
    )  # fmt: skip
    first = Step("p_max", "p_s − p_0", ceiling, "pressure")
    notes = ("At its ceiling a sensor goes on showing its ceiling: the pull looks fine and is not.",)
    return (
        Figure("ceiling", "Highest boost it can show here", ceiling, "pressure",
               Working("Ceiling of the sensor", givens, (first,), "Definition: gauge = absolute − ambient.", notes), significant=3),
        Figure("left", "Left above the boost wanted", left, "pressure",
               Working("Headroom of the sensor", givens, (first, Step("Δ", "p_max − p_b", left, "pressure")),
                       "Definition: gauge = absolute − ambient.", notes), signed=True, significant=3),
    )  # fmt: skip


def injector_duty(
    power: float, consumption: float, injectors: int, rated: float, rated_drop: float, drop: float, fuel_density: float,
    speed: float, dead_time: float, strokes: int = 4,
) -> Figure:  # fmt: skip
    """Duty of the injectors [1] at a power [W] and speed [rad/s], once a cycle.

    consumption: brake specific [kg/J]; rated: flow of one injector [m3/s] at rated_drop [Pa]; drop: rail less manifold
    [Pa]; fuel_density [kg/m3]; dead_time: time an injector takes to open [s]. Flow goes with the root of the drop.
    """
    for name, value in (
        ("power", power),
        ("rated", rated),
        ("drop", drop),
        ("injectors", injectors),
        ("speed", speed),
    ):
        if value <= 0:
            raise InputError("This must be more than nought.", name)
    need = power * consumption / injectors
    able = rated * sqrt(drop / rated_drop) * fuel_density
    cycle = strokes * pi / speed
    duty = need / able + dead_time / cycle
    note = f"Above {DUTY_LIMIT:.0%} nothing is left for a cold day (common practice)."
    working = Working(
        "Injector duty",
        (
            Given("P", "power", power, "power"), Given("b", "brake specific fuel consumption", consumption, "consumption"),
            Given("n", "injectors", float(injectors), "count"), Given("q", "rated flow of one", rated, "flow"),
            Given("Δp_r", "rated at", rated_drop, "pressure"), Given("Δp", "rail less manifold", drop, "pressure"),
            Given("ρ", "density of the fuel", fuel_density, "density"), Given("N", "engine speed", speed, "speed"),
            Given("t_d", "dead time", dead_time, "time"),
        ),
        (
            Step("ṁ", "P·b/n", need, "mass_flow"), Step("ṁ_i", "q·√(Δp/Δp_r)·ρ", able, "mass_flow"),
            Step("t", "time of a cycle", cycle, "time"), Step("D", "ṁ/ṁ_i + t_d/t", duty, "percent"),
        ),
        "First principles: flow through an orifice; open fully for the rest of its pulse.",
        (note, *(("It needs more than there is: larger injectors or more rail pressure.",) if duty > 1 else ())),
    )  # fmt: skip
    return Figure("duty", "Injector duty", duty, "percent", working, significant=2)


def controller_figures(duty: float, boost: float, spring: float) -> tuple[Figure, Figure]:
    """What a boost controller has left: duty below its limit [1], and boost above the spring [Pa].

    duty [1] at the boost [Pa, gauge] it held; spring: boost with the controller shut off [Pa]. Source: common practice.
    """
    if not 0 <= duty <= 1:
        raise InputError("A duty lies between 0 and 100 %.", "duty")
    if boost < 0 or spring < 0:
        raise InputError("A boost is nought or more.", "boost")
    left, above = CONTROLLER_LIMIT - duty, boost - spring
    givens = (
        Given("D", "controller duty", duty, "percent"), Given("p_b", "boost held", boost, "pressure"),
        Given("p_f", "boost on the spring alone", spring, "pressure"),
    )  # fmt: skip
    notes: tuple[str, ...] = ("Boost cannot be set below the spring.",)
    if left <= 0:
        notes += ("The controller is at its end: boost will fall at speed.",)
    duty_step = Step("Δ", f"{CONTROLLER_LIMIT:.0%} − D", left, "percent")
    boost_step = Step("Δp", "p_b − p_f", above, "pressure")
    first = Working("Duty left", givens, (duty_step,), "Common practice, no source.", notes)
    second = Working("Boost above the spring", givens, (boost_step,), "Definition.", notes)
    return (
        Figure("left", "Duty left", left, "percent", first, signed=True, significant=2),
        Figure("above", "Boost above the spring", above, "pressure", second, signed=True, significant=3),
    )
