"""Reckonings of the flow bench."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from longbreath.core.air.moist import Weather
from longbreath.core.basis.quantities import HUMIDITY, ROOM_PRESSURE, ROOM_TEMPERATURE, choice, quantity, whole
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.bench import discharge, meter, porting, potential, reduction, stacks, traverse

GROUP = "Flow bench"
_METER_TEMPERATURE = quantity("temperature", "Air before the meter", "30 C")
_SUCTION = quantity("column", "Suction before the meter", "28 inH2O", 0.0, help="below the room; 0 if it blows")
_TEST_PRESSURE = quantity("column", "Test pressure", "28 inH2O")
_CONTINUITY = "Continuity, first principles."


def _air(temperature: float, pressure: float, meter_temperature: float, suction: float) -> meter.MeterAir:
    return meter.MeterAir.read(Weather(temperature, pressure, 0.0), meter_temperature, suction, "intake")


@reckoning("Flow from range and percentage", GROUP, reduction.SOURCE)
def bench_flow(
    full_scale: Annotated[float, quantity("flow", "Full-scale flow of the range", "300 cfm")],
    percent: Annotated[float, quantity("percent", "Percentage read", "73.4 %")],
    pressure: Annotated[float, quantity("column", "Pressure when read", "25 inH2O")],
    test_pressure: Annotated[float, _TEST_PRESSURE],
    leak: Annotated[float | None, quantity("flow", "Leak flow", "12.6 cfm", 0.0)] = None,
    leak_pressure: Annotated[
        float | None,
        quantity("column", "Pressure of the leak test", "25 inH2O", help="empty: the pressure of the reading"),
    ] = None,
    step: Annotated[float | None, quantity("percent", "Smallest step of the percentage", "0.1 %", high=0.2)] = None,
) -> Reckoned:
    """What does this reading flow at the test pressure, with the leak taken off?"""
    lost = None if leak is None else meter.MeterReading(leak_pressure or pressure, direct=leak)
    reading = meter.MeterReading(pressure, full_scale, percent, flow_resolution=(step or 0.0) * full_scale)
    return answered(reduction.reduce_reading(reading, test_pressure, lost))


@reckoning("Mean velocity in a section", GROUP, _CONTINUITY)
def mean_velocity(
    flow: Annotated[float, quantity("flow", "Flow", "250 cfm", 0.0)],
    area: Annotated[float, quantity("area", "Area of the section", "2.25 in2")],
) -> Reckoned:
    """How fast does the air move through this section?"""
    return answered(reduction.mean_velocity(flow, area))


@reckoning("Flow by an orifice plate", GROUP, meter.ISO)
def orifice_flow(
    plate_diameter: Annotated[float, quantity("length", "Bore of the plate", "50 mm", high=2.0)],
    pipe_diameter: Annotated[float, quantity("length", "Inside of the pipe", "100 mm", high=2.0)],
    taps: Annotated[str, choice("Pressure taps", "corner", ((t, t) for t in meter.TAPS))],
    meter_drop: Annotated[float, quantity("column", "Drop across the plate", "28 inH2O", 0.0)],
    temperature: Annotated[float, ROOM_TEMPERATURE],
    pressure: Annotated[float, ROOM_PRESSURE],
    meter_temperature: Annotated[float, _METER_TEMPERATURE],
    suction: Annotated[float, _SUCTION],
) -> Reckoned:
    """What flows through this plate?"""
    plate = meter.Orifice(plate_diameter, pipe_diameter, taps)
    air = _air(temperature, pressure, meter_temperature, suction)
    reading = meter.MeterReading(suction or 1.0, drop=meter_drop, orifice=plate, air=air)
    return answered(reduction.inlet_flow_figure(reading, "Flow by an orifice plate", meter.ISO))


@reckoning("Warm air at the meter", GROUP, "Conservation of mass, first principles.")
def meter_temperature(
    flow: Annotated[float, quantity("flow", "Flow as shown", "200 cfm")],
    temperature: Annotated[float, ROOM_TEMPERATURE],
    pressure: Annotated[float, ROOM_PRESSURE],
    meter_temperature: Annotated[float, _METER_TEMPERATURE],
    suction: Annotated[float, _SUCTION],
    rule: Annotated[str, choice("Rule", "temperature", meter.RULES.items())],
) -> Reckoned:
    """The meter’s air is warmer than the room: what flows at the inlet?"""
    air = _air(temperature, pressure, meter_temperature, suction)
    reading = meter.MeterReading(suction or 1.0, direct=flow, air=air, rule=rule)
    source = "Conservation of mass, first principles; √(T_in/T_m) alone is common practice."
    return answered(reduction.inlet_flow_figure(reading, "Warm air at the meter", source))


@reckoning("Discharge coefficient of a valve", GROUP, discharge.SOURCE)
def discharge_coefficient(
    flow: Annotated[float, quantity("flow", "Flow at the test pressure", "250 cfm")],
    lift: Annotated[float, quantity("length", "Lift", "12.7 mm", high=2.0)],
    valves: Annotated[int, whole("Valves of the port", "1", 1, 4)],
    valve_diameter: Annotated[float, quantity("length", "Valve head", "50.8 mm", high=2.0)],
    throat_diameter: Annotated[float, quantity("length", "Throat", "44.7 mm", high=2.0)],
    test_pressure: Annotated[float, _TEST_PRESSURE],
    temperature: Annotated[float, ROOM_TEMPERATURE],
    pressure: Annotated[float, ROOM_PRESSURE],
    humidity: Annotated[float, HUMIDITY],
    stem: Annotated[float | None, quantity("length", "Stem", "7 mm", 0.0, 0.05)] = None,
) -> Reckoned:
    """How well does this valve use its opening?"""
    gear = discharge.ValveGear(valves, valve_diameter, throat_diameter, stem or 0.0)
    room = Weather(temperature, pressure, humidity)
    found = discharge.valve_coefficients(flow, lift, gear, test_pressure, room)
    named = [replace(figure, name=key, significant=4) for key, figure in found.items()]
    judgement = discharge.too_good(list(found.values()))
    return answered(*named, discharge.switch_over_figure(gear), judgement=judgement)


@reckoning("Ideal flow of an opening", GROUP, discharge.SOURCE)
def ideal_flow(
    area: Annotated[float, quantity("area", "Area of the opening", "1 in2")],
    test_pressure: Annotated[float, _TEST_PRESSURE],
    temperature: Annotated[float, ROOM_TEMPERATURE],
    pressure: Annotated[float, ROOM_PRESSURE],
    humidity: Annotated[float, HUMIDITY],
) -> Reckoned:
    """What would an ideal opening of this size flow?"""
    room = Weather(temperature, pressure, humidity)
    choked = discharge.is_choked(test_pressure, room)
    words = "Choked: the gas is sonic in the opening, and more pressure brings no more velocity." if choked else ""
    return answered(*discharge.ideal_figures(area, test_pressure, room), judgement=words)


@reckoning("A piece bolted on", GROUP, stacks.SOURCE)
def stack(
    rest: Annotated[float, quantity("flow", "Without the piece", "292.45 cfm")],
    stack: Annotated[float, quantity("flow", "With the piece", "240 cfm")],
    target: Annotated[float | None, quantity("flow", "Wanted with a piece", "260 cfm")] = None,
) -> Reckoned:
    """What does this manifold cost, and what must it flow for a target?"""
    head, whole_stack = stacks.StackState("head alone", rest), stacks.StackState("with the piece", stack)
    needed = None if target is None else stacks.needed_figure(target, head)
    return answered(stacks.loss_figure(head, whole_stack), stacks.alone_figure(head, whole_stack), needed)


@reckoning("Back pressure at equal flow", GROUP, "Turbulent loss, Δp ∝ Q², first principles.")
def back_pressure(
    flow: Annotated[float, quantity("flow", "Flow at the test pressure", "320 cfm")],
    test_pressure: Annotated[float, _TEST_PRESSURE],
    wanted: Annotated[float, quantity("flow", "Flow asked for", "250 cfm")],
) -> Reckoned:
    """At one and the same flow, how much pressure does this part take?"""
    return answered(stacks.pressure_at_flow(flow, test_pressure, wanted))


@reckoning("Velocity from a pitot", GROUP, "Isentropic stagnation of an ideal gas, first principles.")
def pitot_velocity(
    velocity_pressure: Annotated[float, quantity("column", "Velocity pressure", "2500 Pa", 0.0)],
    pressure: Annotated[float, quantity("barometer", "Static pressure", "1013.25 hPa")],
    temperature: Annotated[float, quantity("temperature", "Static temperature", "20 C")],
) -> Reckoned:
    """How fast is the air at the tip of this pitot?"""
    return answered(traverse.pitot_figure(velocity_pressure, pressure, temperature))


@reckoning("Hours of porting to expect", GROUP, porting.SOURCE)
def porting_hours(
    start: Annotated[float, quantity("flow", "Flow before", "205 cfm")],
    now: Annotated[float, quantity("flow", "Flow now", "214 cfm")],
    target_flow: Annotated[float, quantity("flow", "Target", "225 cfm")],
    spent: Annotated[float, quantity("hours", "Hours spent", "3 h")],
    hours_allowed: Annotated[float, quantity("hours", "Hours allowed", "12 h")],
) -> Reckoned:
    """At this rate, how many hours to the target?"""
    job = porting.Job(start, target_flow, hours_allowed, 0.0)
    found = porting.outlook(job, [porting.Bout(spent, now)])
    says = f"{found.judgement[0].upper()}{found.judgement[1:]}: {found.reason}"
    return answered(found.last_rate, found.shortfall, found.expected, judgement=says)


@reckoning("Power potential of a port", GROUP, "Common practice, no source.")
def power_potential(
    flow: Annotated[float, quantity("flow", "Flow of one port", "250 cfm")],
    test_pressure: Annotated[float, _TEST_PRESSURE],
    cylinders: Annotated[int, whole("Cylinders", "8", 1, 24)],
) -> Reckoned:
    """What power could this port feed at most?"""
    return answered(potential.power_potential(flow, test_pressure, cylinders))


@reckoning("Exhaust to intake", GROUP, "Definition.")
def exhaust_to_intake(
    exhaust: Annotated[float, quantity("flow", "Exhaust flow", "165 cfm")],
    intake: Annotated[float, quantity("flow", "Intake flow", "230 cfm")],
) -> Reckoned:
    """What share of the intake does the exhaust flow? (Opinions differ.)"""
    return answered(potential.exhaust_to_intake(exhaust, intake))


@reckoning("Two percentages of one range", GROUP, "Common practice.")
def percentage_gain(
    full_scale: Annotated[float, quantity("flow", "Full-scale flow of the range", "300 cfm")],
    a: Annotated[float, quantity("percent", "Percentage of A", "61.0 %")],
    b: Annotated[float, quantity("percent", "Percentage of B", "64.5 %")],
    pressure_a: Annotated[float, quantity("column", "Pressure when A was read", "28 inH2O")],
    pressure_b: Annotated[float, quantity("column", "Pressure when B was read", "28 inH2O")],
) -> Reckoned:
    """Can these two percentages be compared, and what is between them?"""
    return answered(potential.percentage_gain(full_scale, a, b, pressure_a, pressure_b))
