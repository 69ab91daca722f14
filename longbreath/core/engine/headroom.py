"""What a sensor, an injector or a boost controller has left before the pull that would exceed it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from math import pi, sqrt

from longbreath.core.basis.errors import InputError, positive
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.engine.assumptions import INJECTOR_DEAD_TIME, RATED_FUEL_DROP

INJECTOR_SOURCE = "First principles: flow through an orifice; open fully for the rest of its pulse."
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
        Given("p_s", "top of the sensor, absolute", top, "pressure"),
        Given("p_0", "station pressure", ambient, "barometer"),
        Given("p_b", "boost wanted, gauge", wanted, "pressure"),
    )
    first = Step("p_max", "p_s − p_0", ceiling, "pressure")
    notes = ("At its ceiling a sensor goes on showing its ceiling: the pull looks fine and is not.",)
    return (
        Figure(
            "ceiling",
            "Highest boost it can show here",
            ceiling,
            "pressure",
            Working("Ceiling of the sensor", givens, (first,), "Definition: gauge = absolute − ambient.", notes),
            significant=3,
        ),
        Figure(
            "left",
            "Left above the boost wanted",
            left,
            "pressure",
            Working(
                "Headroom of the sensor",
                givens,
                (first, Step("Δ", "p_max − p_b", left, "pressure")),
                "Definition: gauge = absolute − ambient.",
                notes,
            ),
            signed=True,
            significant=3,
        ),
    )


def injector_duty(
    power: float,
    consumption: float,
    injectors: int,
    rated: float,
    rated_drop: float,
    drop: float,
    fuel_density: float,
    speed: float,
    dead_time: float,
    strokes: int = 4,
) -> Figure:
    """Duty of the injectors [1] at a power [W] and speed [rad/s], once a cycle.

    consumption: brake specific [kg/J]; rated: flow of one injector [m3/s] at rated_drop [Pa]; drop: rail less manifold
    [Pa]; fuel_density [kg/m3]; dead_time: time an injector takes to open [s]. Flow goes with the root of the drop.
    """
    positive(power=power, rated=rated, drop=drop, injectors=injectors, speed=speed)
    need = power * consumption / injectors
    able = rated * sqrt(drop / rated_drop) * fuel_density
    cycle = strokes * pi / speed
    duty = need / able + dead_time / cycle
    note = f"Above {DUTY_LIMIT:.0%} nothing is left for a cold day (common practice)."
    working = Working(
        "Injector duty",
        (
            Given("P", "power", power, "power"),
            Given("b", "brake specific fuel consumption", consumption, "consumption"),
            Given("n", "injectors", float(injectors), "count"),
            Given("q", "rated flow of one", rated, "flow"),
            Given("Δp_r", "rated at", rated_drop, "pressure"),
            Given("Δp", "rail less manifold", drop, "pressure"),
            Given("ρ", "density of the fuel", fuel_density, "density"),
            Given("N", "engine speed", speed, "speed"),
            Given("t_d", "dead time", dead_time, "time"),
        ),
        (
            Step("ṁ", "P·b/n", need, "mass_flow"),
            Step("ṁ_i", "q·√(Δp/Δp_r)·ρ", able, "mass_flow"),
            Step("t", "time of a cycle", cycle, "time"),
            Step("D", "ṁ/ṁ_i + t_d/t", duty, "percent"),
        ),
        INJECTOR_SOURCE,
        (note, *(("It needs more than there is: larger injectors or more rail pressure.",) if duty > 1 else ())),
    )
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
        Given("D", "controller duty", duty, "percent"),
        Given("p_b", "boost held", boost, "pressure"),
        Given("p_f", "boost on the spring alone", spring, "pressure"),
    )
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


@dataclass(frozen=True)
class Demand:
    """What is asked of sensor, injectors and controller; None where it was not said.

    top, boost, drop, rated_drop, spring [Pa]; altitude [m]; power [W]; speed [rad/s]; consumption [kg/J]; injectors
    [count]; rated [m3/s]; dead_time [s]; duty [1].
    """

    top: float | None = None
    altitude: float | None = None
    boost: float | None = None
    power: float | None = None
    speed: float | None = None
    consumption: float | None = None
    injectors: int | None = None
    rated: float | None = None
    rated_drop: float | None = None
    drop: float | None = None
    dead_time: float | None = None
    duty: float | None = None
    spring: float | None = None


@dataclass(frozen=True)
class Headroom:
    """What came of a demand: figures by key, and one sentence per field that is missing or wrong."""

    figures: dict[str, Figure]
    errors: dict[str, str]


def answer(asked: Demand, usual_consumption: float, strokes: int, fuel_density: float) -> Headroom:
    """Figures of sensor, injectors and controller, as far as they were asked for.

    usual_consumption: brake specific fuel consumption where none was said [kg/J]; strokes per cycle [count]; fuel_density [kg/m3].
    """
    found = Headroom({}, {})
    _put(found, asked, "sensor", ("top", "altitude"), _sensor)
    _put(
        found,
        asked,
        "injector",
        ("power", "speed", "injectors", "rated"),
        partial(_injectors, usual_consumption, strokes, fuel_density),
    )
    _put(found, asked, "controller", ("duty", "spring"), _controller)
    return found


def _put(
    found: Headroom, asked: Demand, prefix: str, needs: tuple[str, ...], make: Callable[[Demand], tuple[Figure, ...]]
) -> None:
    """Add the figures of one part where it was asked for: with all its needs, or with a word about what is missing."""
    missing = [name for name in needs if getattr(asked, name) is None]
    if len(missing) == len(needs):
        return
    if missing:
        found.errors[missing[0]] = "This is missing for the answer."
        return
    try:
        found.figures.update({f"{prefix}-{figure.name}": figure for figure in make(asked)})
    except InputError as error:
        found.errors[error.field or needs[0]] = error.message


def _known(value: float | None, otherwise: float = 0.0) -> float:
    return otherwise if value is None else value


def _sensor(asked: Demand) -> tuple[Figure, ...]:
    return sensor_figures(_known(asked.top), pressure_at(_known(asked.altitude)), _known(asked.boost))


def _injectors(usual_consumption: float, strokes: int, fuel_density: float, asked: Demand) -> tuple[Figure, ...]:
    duty = injector_duty(
        _known(asked.power),
        asked.consumption or usual_consumption,
        int(_known(asked.injectors)),
        _known(asked.rated),
        asked.rated_drop or RATED_FUEL_DROP,
        asked.drop or RATED_FUEL_DROP,
        fuel_density,
        _known(asked.speed),
        _known(asked.dead_time, INJECTOR_DEAD_TIME),
        strokes,
    )
    return (duty,)


def _controller(asked: Demand) -> tuple[Figure, ...]:
    return controller_figures(_known(asked.duty), _known(asked.boost), _known(asked.spring))


def say_sensor(left: Figure) -> str:
    """What the headroom of a sensor [Pa] means, in a sentence."""
    if left.value < 0:
        return "The sensor is at its ceiling before that boost: fit one that reads further."
    return "The sensor shows this boost here."


def say_injectors(duty: Figure) -> str:
    """What an injector duty [1] means, in a sentence."""
    if duty.value > 1.0:
        return "They are too small: larger injectors or more rail pressure."
    if duty.value > DUTY_LIMIT:
        return f"Above {DUTY_LIMIT:.0%} nothing is left for a cold day."
    return "They are large enough."


def say_controller(left: Figure) -> str:
    """What is left of a controller's duty [1], in a sentence."""
    return "The controller is at its end: boost will fall at speed." if left.value <= 0 else "The controller holds."
