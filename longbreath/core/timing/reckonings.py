"""The register's entries of timing, time-area and headroom. Import `reckonings`, which imports these."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from math import pi

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import Field, Values
from longbreath.core.basis.units import from_unit
from longbreath.core.basis.working import Figure
from longbreath.core.bench.discharge import ValveGear
from longbreath.core.engine import headroom
from longbreath.core.path.reckonings import SMALLEST, add, angle_field, length_field
from longbreath.core.timing import time_area, wheel

_add = partial(add, group="Timing and headroom")


def _timed(kind: str, names: tuple[str, ...], totals: tuple[str, ...] = ()) -> Callable[[Values], tuple[Figure, ...]]:
    def run(v: Values) -> tuple[Figure, ...]:
        noted = {port: v[f"{port}_total"] for port in totals if v[f"{port}_total"] is not None}
        sheet = wheel.Sheet(kind, {n: v[n] for n in names if v[n] is not None}, totals=noted)
        figures: dict[str, Figure] = {}
        for port in wheel.PORTS[kind]:
            if sheet.has(port):
                figures |= wheel.port_figures(sheet, port)
        if wrong := wheel.findings(sheet):
            raise InputError(wrong[0].words, wrong[0].field)
        return (*figures.values(), *wheel.pair_figures(sheet).values())

    return run


def _readings(kind: str, examples: tuple[str, ...]) -> tuple[Field, ...]:
    return tuple(
        angle_field(n, label, example) for (n, label), example in zip(wheel.READINGS[kind], examples, strict=True)
    )


_POPPET, _DISC, _ROTARY = (tuple(n for n, _ in wheel.READINGS[k]) for k in ("poppet", "disc", "rotary"))
_add(
    "timing_poppet",
    "Timing of poppet valves",
    "How long are the valves open, and how do they overlap?",
    _readings("poppet", ("12 °", "48 °", "54 °", "14 °")),
    _timed("poppet", _POPPET),
    wheel.FIRST_PRINCIPLES,
)
_add(
    "timing_disc",
    "Timing of a rotary valve or disc",
    "Do the parts add up to the noted total?",
    (*_readings("disc", ("145 °", "65 °")), angle_field("intake_total", "Noted total", "210 °", 0.1, required=False)),
    _timed("disc", _DISC, ("intake",)),
    wheel.FIRST_PRINCIPLES,
)
_add(
    "timing_rotary",
    "Timing of rotary-engine ports",
    "How long are the ports open?",
    _readings("rotary", ("32 °", "40 °", "75 °", "38 °")),
    _timed("rotary", _ROTARY),
    wheel.FIRST_PRINCIPLES,
)
_add(
    "dead_centre",
    "Dead centre by a stop",
    "How false is the wheel’s dead centre?",
    (
        angle_field("stop_before", "Stop met before top", "28 °", 0.001),
        angle_field("stop_after", "and after", "34 °", 0.001),
    ),
    lambda v: (wheel.dead_centre_figure(v["stop_before"], v["stop_after"]),),
    wheel.FIRST_PRINCIPLES,
)
_add(
    "arc_degrees",
    "Degrees from an arc",
    "How many degrees is this along the rim?",
    (length_field("arc", "Along the rim", "32 mm"), length_field("radius", "Radius there", "40 mm")),
    lambda v: (wheel.arc_angle(v["arc"], v["radius"]),),
)
_add(
    "degrees_arc",
    "Arc from degrees",
    "How far along the rim are these degrees?",
    (angle_field("angle", "Angle", "5 °", 0.0001), length_field("radius", "Radius there", "40 mm")),
    lambda v: (wheel.arc_length(v["angle"], v["radius"]),),
)
_STROKE, _ROD = length_field("stroke", "Stroke", "54 mm"), length_field("rod", "Rod", "105 mm")
_add(
    "port_angle",
    "Port angle from its depth",
    "When does the piston open this port?",
    (length_field("depth", "Edge below top dead centre", "29 mm"), _STROKE, _ROD),
    lambda v: (wheel.port_angle(v["depth"], v["stroke"], v["rod"]),),
)

_SPEED = Field("speed", "Engine speed", "speed", "6000 rpm", 10 * RPM, 30000 * RPM)
_CYLINDER = Field("displacement", "Displacement of one cylinder", "volume", "400 cc", 1e-6)


def _trapezoid(v: Values) -> tuple[Figure, ...]:
    area = time_area.trapezoid(v["up"], v["dwell"], v["down"], v["area"])
    return time_area.figures(
        area, v["up"] + v["dwell"] + v["down"], v["speed"], v["displacement"], "window opened and closed evenly"
    )


def _piston(v: Values) -> tuple[Figure, ...]:
    area = time_area.piston_port(v["depth"], v["stroke"], v["rod"], v["top_width"], v["bottom_width"])
    duration = 2 * (pi - wheel.port_angle(v["depth"], v["stroke"], v["rod"]).value)
    return time_area.figures(area, duration, v["speed"], v["displacement"], "window in the wall, by the slider crank")


def _poppet(v: Values) -> tuple[Figure, ...]:
    gear = ValveGear(int(v["valves"]), v["valve_diameter"], v["throat_diameter"], v["stem_diameter"] or 0.0)
    area = time_area.poppet(v["duration"], v["peak_lift"], gear)
    return time_area.figures(
        area, v["duration"], v["speed"], v["displacement"], "smaller of curtain and throat, lift as a sine squared"
    )


_add(
    "time_area",
    "Time-area of a window",
    "How much window for how long?",
    (
        Field("area", "Area", "area", "1200 mm2", SMALLEST),
        angle_field("up", "Opens over", "40 °", 0.0),
        angle_field("dwell", "stays open for", "90 °", 0.0),
        angle_field("down", "closes over", "40 °", 0.0),
        _SPEED,
        _CYLINDER,
    ),
    _trapezoid,
)
_add(
    "time_area_piston",
    "Time-area of a piston port",
    "How much exhaust window for how long?",
    (
        length_field("depth", "Top of the window below top dead centre", "29 mm"),
        _STROKE,
        _ROD,
        length_field("top_width", "Width at the top", "38 mm"),
        length_field("bottom_width", "and at the bottom", "30 mm", required=False),
        _SPEED,
        _CYLINDER,
    ),
    _piston,
)
_add(
    "time_area_poppet",
    "Time-area of poppet valves",
    "How much valve opening for how long?",
    (
        Field("valves", "Valves", "count", "2", 1, 6),
        length_field("valve_diameter", "Valve head", "33 mm"),
        length_field("throat_diameter", "Throat", "29 mm"),
        length_field("stem_diameter", "Stem", "5.5 mm", required=False),
        length_field("peak_lift", "Peak lift", "10.2 mm"),
        angle_field("duration", "Duration", "224 °", 0.1),
        _SPEED,
        _CYLINDER,
    ),
    _poppet,
)
_add(
    "closing_delay",
    "How late may a disc close?",
    "Is this closing too late for the inlet?",
    (
        angle_field("closing", "Closes after top dead centre", "65 °", 0.0),
        length_field("inlet_length", "Inlet tract", "84 mm"),
        _CYLINDER,
    ),
    lambda v: (wheel.judge_closing(v["closing"], v["inlet_length"], v["displacement"]).limit,),
    "Common practice, no published source.",
)

_add(
    "sensor_headroom",
    "Headroom of a pressure sensor",
    "How much boost can this sensor show here?",
    (
        Field("top", "Sensor reads up to, absolute", "pressure", "2 bar", 5e4, 1e6),
        Field("altitude", "Altitude", "length", "0 m", -500, 9000),
        Field("boost", "Boost wanted", "pressure", "12 psi", 0, 1e6),
    ),
    lambda v: headroom.sensor_figures(v["top"], headroom.pressure_at(v["altitude"]), v["boost"]),
    "Definition; standard atmosphere from memory.",
)
_add(
    "injector_duty",
    "Injector duty",
    "Are the injectors large enough?",
    (
        Field("power", "Power", "power", "160 kW", 100),
        Field(
            "consumption",
            "Specific fuel consumption",
            "consumption",
            "280 g/kWh",
            from_unit(150, "consumption", "g/kWh"),
        ),
        Field("injectors", "Injectors", "count", "4", 1, 24),
        Field("rated", "One flows", "flow", "0.28 L/min", SMALLEST),
        Field("rated_drop", "rated at", "pressure", "3 bar", 1e4),
        Field("drop", "Rail less manifold", "pressure", "3 bar", 1e4),
        Field("fuel_density", "Density of the fuel", "density", "745 kg/m3", 400, 1200),
        _SPEED,
        Field("dead_time", "Dead time", "time", "0.001 s", 0, 0.01),
        Field("strokes", "Strokes per cycle", "count", "4", 2, 4),
    ),
    lambda v: (
        headroom.injector_duty(
            v["power"],
            v["consumption"],
            int(v["injectors"]),
            v["rated"],
            v["rated_drop"],
            v["drop"],
            v["fuel_density"],
            v["speed"],
            v["dead_time"],
            int(v["strokes"]),
        ),
    ),
)
_add(
    "controller_headroom",
    "Headroom of a boost controller",
    "What has the controller left?",
    (
        Field("duty", "Controller duty", "percent", "62 %", 0, 1),
        Field("boost", "Boost held", "pressure", "14 psi", 0, 1e6),
        Field("spring", "Boost on the spring alone", "pressure", "7 psi", 0, 1e6),
    ),
    lambda v: headroom.controller_figures(v["duty"], v["boost"], v["spring"]),
    "Common practice, no source.",
)
