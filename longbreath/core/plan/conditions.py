"""What a card's modes demand: the channels that must be logged, what can be claimed of it, limits at which the operator stops."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

TUNE_MODES = {
    "one tune": "one tune for all",
    "same mixture": "each tuned to the same mixture target",
    "out of the box": "each as it comes out of the box, with its own tune",
}
CONTROL_MODES = {
    "boost free": "the controller is left alone; boost is what the part makes of it",
    "equal boost": "the controller is set so that boost is equal",
    "equal back pressure": "the controller is set so that back pressure is equal",
}
INTENDED = {
    "same mixture": ("tune", "tune_author"),
    "out of the box": ("tune", "tune_author"),
    "equal boost": ("controller",),
    "equal back pressure": ("controller",),
}
"""Lines of the build sheets that a mode changes on purpose: they differ, and comparability does not break by it."""


def intended(tune_mode: str, control_mode: str) -> frozenset[str]:
    """Lines that differ on purpose under these modes."""
    return frozenset((*INTENDED.get(tune_mode, ()), *INTENDED.get(control_mode, ())))


def channels_demanded(tune_mode: str, control_mode: str, mixture: bool, boosted: bool) -> tuple[str, ...]:
    """What must be logged, beside speed and torque. Common practice, no source."""
    found = []
    if mixture or tune_mode == "same mixture":
        found.append("mixture (λ)")
    if boosted or control_mode:
        found.append("manifold pressure, absolute or with the station's pressure")
    if control_mode == "equal back pressure":
        found.append("back pressure before the turbine or in the downpipe")
    if control_mode == "boost free":
        found.append("controller duty")
    if boosted:
        found.append("charge temperature after the cooler")
    return tuple(found)


def claims_possible(tune_mode: str, control_mode: str, boosted: bool) -> tuple[str, ...]:
    """What may be claimed of such a test, in sentences."""
    found = []
    if boosted and not control_mode:
        found.append("Choose first how boost is held: until then nothing about power can be claimed.")
    if control_mode == "boost free":
        found.append(
            "Power at the same controller setting may be claimed, with the boost that came of it; not at equal boost."
        )
    if control_mode in ("equal boost", "equal back pressure"):
        held = control_mode.replace("equal ", "")
        found.append(f"Power at equal {held} may be claimed; not what a buyer gets who leaves the controller alone.")
    if tune_mode == "one tune":
        found.append("The claim says that both ran on one tune.")
    if tune_mode == "same mixture":
        found.append("The claim says that each was tuned to the same mixture, and how many rounds each was given.")
    if tune_mode == "out of the box":
        found.append("Only a claim for part and tune together can come of it: a package.")
    return tuple(found)


@dataclass(frozen=True)
class Limit:
    """Where the operator stops: key, name, kind of quantity ("" for words), and on which side it is crossed."""

    key: str
    name: str
    kind: str
    side: str = "over"


LIMITS = (
    Limit("boost", "Boost, against the air around", "pressure"),
    Limit("lean", "λ, leaner than", "ratio"),
    Limit("rich", "λ, richer than", "ratio", "under"),
    Limit("knock", "Knock", ""),
    Limit("coolant", "Coolant", "temperature"),
    Limit("oil", "Oil", "temperature"),
    Limit("charge", "Charge air", "temperature"),
    Limit("exhaust", "Exhaust gas", "temperature"),
    Limit("injector_duty", "Injector duty", "percent"),
    Limit("controller_duty", "Controller duty", "percent"),
    Limit("weakest_torque", "Torque of the weakest part", "torque"),
    Limit("weakest_speed", "Speed of the weakest part", "speed"),
)
WINDOW = {"coolant": "Coolant", "oil": "Oil", "intake": "Intake air", "exhaust": "Exhaust"}
"""Temperatures that stand inside a window when a pull begins; a hot and a cold start can outweigh the effect sought."""


def ceiling(high: float, is_absolute: bool, station: float) -> float:
    """Boost [Pa] against the air around at which a pressure sensor is at its end.

    high: end of its range [Pa]; an absolute one reads the station's pressure as well. Source: definition of gauge pressure.
    """
    return high - station if is_absolute else high


SPARE = 0.05
"""A sensor that is used beyond this share below its end cannot show what goes beyond. Common practice, no source."""


def limit_trouble(limits: Mapping[str, object], ceiling: float | None) -> str:
    """What is wrong with the limits on a card in one sentence, or nothing: a boost that the sensor cannot show."""
    boost = limits.get("boost")
    if ceiling is not None and isinstance(boost, float) and boost > ceiling * (1.0 - SPARE):
        return "The boost at which to stop lies at or beyond the end of the sensor: it could not be seen."
    return ""


def expected_pressures(levels: Sequence[str], read: Callable[[str], float]) -> dict[str, float]:
    """Settings of a controller with the boost [Pa] expected of each, of levels written "30 % = 0.7 bar"; others are left out.

    read: turns a written pressure into SI; raises InputError as it does.
    """
    pairs = (level.partition("=") for level in levels)
    return {name.strip(): read(text.strip()) for name, equals, text in pairs if equals}


def step_trouble(expected: Mapping[str, float], spring: float | None, stop: float | None) -> str:
    """What is wrong with the steps of a controller in one sentence, or nothing: it cannot hold less boost than its spring, and none
    of them may lie beyond the boost at which to stop. Pressures [Pa]."""
    for name, pressure in expected.items():
        if spring is not None and pressure < spring * (1.0 - SPRING_SLACK):
            return f"{name}: the spring alone already makes more boost than is expected here. A controller cannot hold less."
        if stop is not None and pressure > stop:
            return f"{name}: the boost expected lies beyond the boost at which to stop."
    return ""


SPRING_SLACK = 0.03
"""A spring holds its pressure to about this share [1]. Common practice, no source."""

CAUTIONS = (
    "Vehicle strapped at both ends; nobody in line with wheels, rollers or shafts.",
    "Extinguisher at hand, exhaust extraction running, carbon-monoxide alarm on.",
    "Hearing protection; a stop signal agreed; fuel cut-off in reach.",
    "Over-boost, lean mixture, knock or over-speed: stop and inspect.",
)
"""The usual cautions of a dyno cell; local codes and licensed practice decide."""

CHECKLISTS = {
    "every": (
        "Clamps and flanges tight, nothing loose near the inlet",
        "Leak check with smoke or soapy water",
        "Fluids at level",
    ),
    "turbocharger": (
        "Oil feed clear and primed",
        "Oil drain falls without a low point",
        "Scavenging works, where it is fitted",
        "Flange flat, gasket new",
        "Housings clocked as drawn",
        "Sensor sits where the drawing says",
    ),
    "downpipe": ("Flange flat, gasket new", "Sensor sits where the drawing says", "Clear of lines and wiring when hot"),
    "manifold": ("Gasket new, face flat", "Unused ports plugged", "Vacuum lines on, none collapsed"),
    "water crossover": ("Plugs tight", "Sealant cured", "Thermostat opens in hot water"),
    "short block": ("Turning torque written down before closing", "Ring gaps as measured", "Oil pressure by cranking"),
    "crank": ("Oilways filled before cutting through", "Key notches as drawn", "Balanced as an assembly"),
    "throttle body": ("Closes fully, no stick at the stop", "Position sensor set at closed and open"),
}
"""Lines that the house begins with, by family of part; they are its own from then on. Common practice, no source."""
