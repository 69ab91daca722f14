"""The register's entries of the flow bench. Import `reckonings`, which imports these."""

from __future__ import annotations

from dataclasses import replace

from longbreath.core.air.moist import Weather
from longbreath.core.basis.register import Field, Reckoning, Values, register
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.bench import discharge, meter, porting, potential, reduction, stacks, traverse

_SMALL = 1e-12


def _add(entry: Reckoning) -> None:
    register(replace(entry, group="Flow bench"))


def _flow(name: str, label: str, example: str, required: bool = True, help: str = "") -> Field:
    return Field(name, label, "flow", example, _SMALL, required=required, help=help)


def _column(name: str = "test_pressure", label: str = "Test pressure", example: str = "28 inH2O") -> Field:
    return Field(name, label, "column", example, _SMALL)


def _size(name: str, label: str, example: str, low: float = _SMALL) -> Field:
    return Field(name, label, "length", example, low, 2.0)


_ROOM = (
    Field("temperature", "Room temperature", "temperature", "20 C"),
    Field("pressure", "Room pressure", "barometer", "1013.25 hPa"),
    Field("humidity", "Relative humidity", "percent", "0 %", 0, 1),
)


def _room(values: Values) -> Weather:
    return Weather(values["temperature"], values["pressure"], values["humidity"])


def _air(values: Values) -> meter.MeterAir:
    room = Weather(values["temperature"], values["pressure"], 0.0)
    return meter.MeterAir(room, values["meter_temperature"], values["pressure"] - values["suction"])


_METER_AIR = (
    *_ROOM[:2],
    Field("meter_temperature", "Air before the meter", "temperature", "30 C"),
    Field("suction", "Suction before the meter", "column", "28 inH2O", 0.0, help="below the room; 0 if it blows"),
)


def _orifice(values: Values) -> tuple[Figure, ...]:
    plate = meter.Orifice(values["plate_diameter"], values["pipe_diameter"], values["taps"])
    reading = reduction.MeterReading(
        values["suction"] or 1.0, drop=values["meter_drop"], orifice=plate, air=_air(values)
    )
    flow = reading.gross
    steps = (*reading.steps(), Step("Re", "4·ṁ/(π·D·μ)", meter.reynolds(plate, flow, _air(values)), "ratio"))
    working = Working("Flow by an orifice plate", reading.givens(), steps, meter.ISO, reading.notes())
    return (Figure("flow", "Flow at the inlet", flow, "flow", working),)


_add(
    Reckoning(
        "orifice_flow",
        "Flow by an orifice plate",
        "What flows through this plate?",
        (
            _size("plate_diameter", "Bore of the plate", "50 mm"),
            _size("pipe_diameter", "Inside of the pipe", "100 mm"),
            Field("taps", "Pressure taps", "", "corner", choices=tuple((t, t) for t in meter.TAPS)),
            Field("meter_drop", "Drop across the plate", "column", "28 inH2O", 0.0),
            *_METER_AIR,
        ),
        _orifice,
        meter.ISO,
    )
)


def _warm(values: Values) -> tuple[Figure, ...]:
    reading = reduction.MeterReading(
        values["suction"] or 1.0, direct=values["flow"], air=_air(values), rule=values["rule"]
    )
    working = Working(
        "Warm air at the meter",
        reading.givens(),
        tuple(reading.steps()),
        "Conservation of mass, first principles; √(T_in/T_m) alone is common practice.",
    )
    return (Figure("flow", "Flow at the inlet", reading.gross, "flow", working),)


_add(
    Reckoning(
        "meter_temperature",
        "Warm air at the meter",
        "The meter’s air is warmer than the room: what flows at the inlet?",
        (
            _flow("flow", "Flow as shown", "200 cfm"),
            *_METER_AIR,
            Field("rule", "Rule", "", "temperature", choices=tuple(meter.RULES.items())),
        ),
        _warm,
        "Conservation of mass, first principles.",
    )
)


def _gear(values: Values) -> discharge.ValveGear:
    return discharge.ValveGear(
        int(values["valves"]), values["valve_diameter"], values["throat_diameter"], values["stem"] or 0.0
    )


_GEAR = (
    Field("valves", "Valves of the port", "count", "1", 1, 4),
    _size("valve_diameter", "Valve head", "50.8 mm"),
    _size("throat_diameter", "Throat", "44.7 mm"),
    Field("stem", "Stem", "length", "7 mm", 0.0, 0.05, required=False),
)


def _coefficients(values: Values) -> tuple[Figure, ...]:
    gear = _gear(values)
    found = discharge.valve_coefficients(values["flow"], values["lift"], gear, values["test_pressure"], _room(values))
    named = [Figure(key, f.label, f.value, f.kind, f.working, significant=4) for key, f in found.items()]
    return (*named, discharge.switch_over_figure(gear))


_add(
    Reckoning(
        "discharge_coefficient",
        "Discharge coefficient of a valve",
        "How well does this valve use its opening?",
        (
            _flow("flow", "Flow at the test pressure", "250 cfm"),
            _size("lift", "Lift", "12.7 mm"),
            *_GEAR,
            _column(),
            *_ROOM,
        ),
        _coefficients,
        discharge.SOURCE,
    )
)


def _ideal(values: Values) -> tuple[Figure, ...]:
    room, drop = _room(values), values["test_pressure"]
    flow = discharge.ideal_flow(values["area"], drop, room)
    velocity = discharge.ideal_velocity(drop, room)
    working = Working(
        "Ideal flow of an opening",
        (Given("A", "area of the opening", values["area"], "area"), Given("Δp", "test pressure", drop, "column")),
        (
            Step("v", "a·√(2/(γ−1)·(1 − (p/p_0)^((γ−1)/γ)))", velocity, "velocity"),
            Step("Q_i", "A·√(R·T_0)·ψ(p/p_0), at room density", flow, "flow"),
        ),
        discharge.SOURCE,
        ("About 146 cfm per square inch at 28 inH₂O is the round figure in use; it is incompressible.",),
    )
    return (
        Figure("velocity", "Ideal velocity", velocity, "velocity", working),
        Figure("flow", "Ideal flow", flow, "flow", working),
    )


_add(
    Reckoning(
        "ideal_flow",
        "Ideal flow of an opening",
        "What would an ideal opening of this size flow?",
        (Field("area", "Area of the opening", "area", "1 in2", _SMALL), _column(), *_ROOM),
        _ideal,
        discharge.SOURCE,
    )
)


def _stack(values: Values) -> tuple[Figure, ...]:
    head = stacks.StackState("head alone", values["rest"])
    stack = stacks.StackState("with the piece", values["stack"])
    found = [stacks.loss_figure(head, stack), stacks.alone_figure(head, stack)]
    if values["target"] is not None:
        found.append(stacks.needed_figure(values["target"], head))
    return tuple(found)


_add(
    Reckoning(
        "stack",
        "A piece bolted on",
        "What does this manifold cost, and what must it flow for a target?",
        (
            _flow("rest", "Without the piece", "292.45 cfm"),
            _flow("stack", "With the piece", "240 cfm"),
            _flow("target", "Wanted with a piece", "260 cfm", required=False),
        ),
        _stack,
        stacks.SOURCE,
    )
)

_add(
    Reckoning(
        "back_pressure",
        "Back pressure at equal flow",
        "At one and the same flow, how much pressure does this part take?",
        (
            _flow("flow", "Flow at the test pressure", "320 cfm"),
            _column(),
            _flow("wanted", "Flow asked for", "250 cfm"),
        ),
        lambda v: (stacks.pressure_at_flow(v["flow"], v["test_pressure"], v["wanted"]),),
        "Turbulent loss, Δp ∝ Q², first principles.",
    )
)


def _pitot(values: Values) -> tuple[Figure, ...]:
    v = traverse.pitot_velocity(values["velocity_pressure"], values["pressure"], values["temperature"])
    working = Working(
        "Velocity from a pitot",
        (
            Given("Δp", "velocity pressure", values["velocity_pressure"], "column"),
            Given("p", "static pressure", values["pressure"], "barometer"),
            Given("T", "static temperature", values["temperature"], "temperature"),
        ),
        (Step("v", "a·√(2/(γ−1)·((Δp/p + 1)^((γ−1)/γ) − 1)), a = √(γ·R·T)", v, "velocity"),),
        "Isentropic stagnation of an ideal gas, first principles.",
    )
    return (Figure("velocity", "Velocity", v, "velocity", working),)


_add(
    Reckoning(
        "pitot_velocity",
        "Velocity from a pitot",
        "How fast is the air at the tip of this pitot?",
        (
            Field("velocity_pressure", "Velocity pressure", "column", "2500 Pa", 0.0),
            Field("pressure", "Static pressure", "barometer", "1013.25 hPa"),
            Field("temperature", "Static temperature", "temperature", "20 C"),
        ),
        _pitot,
        "Isentropic stagnation of an ideal gas, first principles.",
    )
)


def _porting(values: Values) -> tuple[Figure, ...]:
    job = porting.Job(values["start"], values["target_flow"], values["hours_allowed"], 0.0)
    found = porting.outlook(job, [porting.Bout(values["spent"], values["now"])])
    return tuple(f for f in (found.last_rate, found.shortfall, found.expected) if f is not None)


_add(
    Reckoning(
        "porting_hours",
        "Hours of porting to expect",
        "At this rate, how many hours to the target?",
        (
            _flow("start", "Flow before", "205 cfm"),
            _flow("now", "Flow now", "214 cfm"),
            _flow("target_flow", "Target", "225 cfm"),
            Field("spent", "Hours spent", "hours", "3 h", 1.0),
            Field("hours_allowed", "Hours allowed", "hours", "12 h", 1.0),
        ),
        _porting,
        porting.SOURCE,
    )
)

_add(
    Reckoning(
        "power_potential",
        "Power potential of a port",
        "What power could this port feed at most?",
        (_flow("flow", "Flow of one port", "250 cfm"), _column(), Field("cylinders", "Cylinders", "count", "8", 1, 24)),
        lambda v: (potential.power_potential(v["flow"], v["test_pressure"], int(v["cylinders"])),),
        "Common practice, no source.",
    )
)

_add(
    Reckoning(
        "exhaust_to_intake",
        "Exhaust to intake",
        "What share of the intake does the exhaust flow? (Opinions differ.)",
        (_flow("exhaust", "Exhaust flow", "165 cfm"), _flow("intake", "Intake flow", "230 cfm")),
        lambda v: (potential.exhaust_to_intake(v["exhaust"], v["intake"]),),
        "Definition.",
    )
)

_add(
    Reckoning(
        "percentage_gain",
        "Two percentages of one range",
        "Can these two percentages be compared, and what is between them?",
        (
            _flow("full_scale", "Full-scale flow of the range", "300 cfm"),
            Field("a", "Percentage of A", "percent", "61.0 %", 0, 1),
            Field("b", "Percentage of B", "percent", "64.5 %", 0, 1),
            _column("pressure_a", "Pressure when A was read"),
            _column("pressure_b", "Pressure when B was read"),
        ),
        lambda v: (potential.percentage_gain(v["full_scale"], v["a"], v["b"], v["pressure_a"], v["pressure_b"]),),
        "Common practice.",
    )
)
