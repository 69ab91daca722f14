"""What the records know for a question, by name: each value with what it rests on and where it comes from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from math import pi

from longbreath.core.air.moist import Weather, density
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import rpm
from longbreath.core.engine import assumptions, demand, sizes
from longbreath.core.engine.fuels import fuel_named
from longbreath.core.path.kinds import COMPRESSOR, RUNNER
from longbreath.core.reckon.rests import CHOSEN, ESTIMATED, MEASURED, NOMINAL, Known
from longbreath.core.timing import wheel
from longbreath.dossier.conditions import cylinder_of
from longbreath.dossier.path.elements import core_element, exit_of, is_nominal, plenum_figure, section_of
from longbreath.dossier.reckon.records import Records
from longbreath.dossier.timing import core_sheet
from longbreath.store.models import Element, Vehicle, WheelSheet

CARD = "the vehicle’s card"
PRACTICE = "common practice for such an engine"


def _of_card(value: float | None) -> Known | None:
    return None if value is None else Known(float(value), NOMINAL, CARD)


def _usual(value: float, where: str = PRACTICE) -> Known:
    return Known(float(value), ESTIMATED, where)


def _of_element(element: Element | None, value: float | None) -> Known | None:
    if element is None or value is None:
        return None
    tool = f", {element.tool}" if element.tool else ""
    return Known(float(value), NOMINAL if is_nominal(element) else MEASURED, f"{element.name}{tool}")


def stroke_area(e: Element, vehicle: Vehicle) -> float:
    """The area [m2] that one cylinder's stroke finds in an element: shared by others that draw at the same time, with its flap.

    A throttle for four cylinders of a four-stroke is passed by one at a time, one for eight by two.
    """
    served = max(1.0, vehicle.cylinders / e.branches)
    pulse = max(1.0, vehicle.strokes / served)
    share = vehicle.strokes * e.branches / (vehicle.cylinders * pulse)
    return section_of(e).area * (e.open_share or 1.0) * share


def _section_area(records: Records) -> Known | None:
    e = records.section
    return _of_element(e, stroke_area(e, records.vehicle)) if e is not None else None


def _section_temperature(records: Records) -> Known:
    e = records.section
    return FILL["pipe_temperature" if e is not None and e.side == "exhaust" else "runner_temperature"](records)  # type: ignore[return-value]


def _runner(records: Records) -> Element | None:
    e = records.section
    return e if e is not None and e.kind == RUNNER else records.first(RUNNER)


def port_length(records: Records) -> float:
    """Length of the port between runner and valve [m], as measured; nought where none is."""
    return sum(e.length for e in records.fitted if e.kind == "port")


def _runner_length(records: Records) -> Known | None:
    """From valve to plenum: the runner with the port of the head behind it."""
    runner, port = _runner(records), port_length(records)
    found = _of_element(runner, runner.length + port) if runner is not None else None
    return replace(found, where=f"{found.where}, with the port") if found is not None and port else found


def _runner_area(records: Records) -> Known | None:
    e = _runner(records)
    return _of_element(e, section_of(e).area) if e is not None else None


def _runner_bore(records: Records) -> Known | None:
    e = _runner(records)
    return _of_element(e, section_of(e).equal_area_diameter) if e is not None else None


def _target_speed(records: Records) -> Known:
    v = records.vehicle
    usual = round((v.band_top + 0.75 * (v.band_end - v.band_top)) / RPM / 100) * 100 * RPM
    return records.limit("speed") or _usual(usual, "three quarters up the top band of use")


def _tuned_speed(records: Records) -> Known:
    low, high = records.limit("tuned_from"), records.limit("tuned_to")
    if low is not None and high is not None:
        return Known((low.number + high.number) / 2.0, CHOSEN, "middle of the target’s tuned band")
    v = records.vehicle
    return _usual(round((v.band_middle + v.band_top) / 2 / RPM / 100) * 100 * RPM, "middle of the middle band of use")


def _target_power(records: Records) -> Known:
    usual = round(records.engine.displacement * assumptions.SPECIFIC_POWER / 1000.0) * 1000.0
    return records.limit("power") or _usual(usual, "75 kW a litre, a road engine’s")


def _velocity(records: Records) -> Known:
    least, most = records.limit("velocity_least"), records.limit("velocity_most")
    if least is not None and most is not None:
        return Known((least.number + most.number) / 2.0, CHOSEN, "middle of what the target allows")
    return _usual(assumptions.RUNNER_VELOCITY, "70 to 90 m/s are in use")


def _air_flow(records: Records) -> Known:
    speed, filling = _target_speed(records), _usual(records.assumed.filling)
    flow = demand.air_demand(records.engine, speed.number, filling.number).value
    return Known(flow, ESTIMATED, f"at {rpm(speed.number)} rpm, filled to {filling.number:.0%}")


def _timed(records: Records, port: str) -> tuple[wheel.Opening, WheelSheet] | None:
    """The newest sheet that stands and times a port, the product's before the stock part's."""
    for sheet in sorted(records.sheets, key=lambda s: (s.label == "A", -s.id)):
        core = core_sheet(sheet)
        if core.has(port):
            return wheel.opening(core, port), sheet
    return None


def _on_wheel(sheet: WheelSheet) -> str:
    return f"degree wheel, {sheet.title}"


def _duration(port: str) -> Callable[[Records], Known | None]:
    def read(records: Records) -> Known | None:
        timed = _timed(records, port)
        if timed is not None:
            return Known(timed[0].duration, MEASURED, _on_wheel(timed[1]))
        return _of_card(records.vehicle.intake_duration) if port == "intake" else None

    return read


def _reading(name: str) -> Callable[[Records], Known | None]:
    def read(records: Records) -> Known | None:
        port = name.partition("_")[0]
        for sheet in sorted(records.sheets, key=lambda s: (s.label == "A", -s.id)):
            core = core_sheet(sheet)
            if core.has(port) and (value := core.read(name)) is not None:
                return Known(value, MEASURED, _on_wheel(sheet))
        return None

    return read


def _window(name: str) -> Callable[[Records], Known | None]:
    def read(records: Records) -> Known | None:
        for sheet in sorted(records.sheets, key=lambda s: (s.label == "A", -s.id)):
            if (value := sheet.window.get(name)) is not None:
                return Known(float(value), MEASURED, _on_wheel(sheet))
        return None

    return read


def _plenum(records: Records) -> Known | None:
    e = records.first("plenum", "air box")
    if e is None:
        return None
    found = plenum_figure(e, records.vehicle.cylinders)
    return _of_element(e, found.value) if found is not None else None


def _exhaust_port(records: Records) -> Known | None:
    e = records.first("exhaust port")
    return _of_element(e, section_of(e).equal_area_diameter) if e is not None else None


def _exhaust_port_length(records: Records) -> Known:
    e = records.first("exhaust port")
    return _of_element(e, e.length if e is not None else None) or _usual(0.075, "a road engine’s port")


def _primary_length(records: Records) -> Known | None:
    e = records.first("primary")
    return _of_element(e, e.length if e is not None else None)


def _bore_of(*kinds: str) -> Callable[[Records], Known | None]:
    def read(records: Records) -> Known | None:
        e = records.first(*kinds)
        return (
            _of_element(e, section_of(e).equal_area_diameter * (e.open_share or 1.0) ** 0.5) if e is not None else None
        )

    return read


def _behind_collector(records: Records) -> list[Element]:
    return [e for e in records.fitted if e.side == "exhaust" and e.kind in ("downpipe", "pipe", "tip")]


def _pipe_length(records: Records) -> Known | None:
    pipes = _behind_collector(records)
    if not pipes:
        return None
    worst = NOMINAL if any(is_nominal(e) for e in pipes) else MEASURED
    return Known(sum(e.length for e in pipes), worst, " + ".join(e.name for e in pipes))


def _pipe_bends(records: Records) -> Known:
    turned = sum((e.bend_angle or 0.0) for e in _behind_collector(records))
    return _usual(1.0 + 0.3 * turned / (pi / 2.0), "the way out 1, and 0.3 for each right angle measured")


def _tail(records: Records) -> Known | None:
    after: list[Element] = []
    for e in records.fitted:
        after = [] if e.kind in ("muffler", "resonator") else [*after, e] if e.side == "exhaust" else after
    if not after or not any(e.kind in ("muffler", "resonator") for e in records.fitted):
        return None
    return Known(sum(e.length for e in after), MEASURED, " + ".join(e.name for e in after))


def _gas_flow(records: Records) -> Known:
    air = _air_flow(records).number * _density()
    gas = air * (1.0 + 1.0 / records.assumed.air_fuel_ratio)
    return Known(gas, ESTIMATED, f"air {_air_flow(records).where}, with its fuel")


def _density() -> float:
    return density(Weather(assumptions.ROOM_TEMPERATURE, assumptions.ROOM_PRESSURE, 0.0))


def _boost(records: Records) -> Known | None:
    e = records.first(COMPRESSOR)
    if e is None or e.pressure_ratio is None:
        return None
    return _of_element(e, (e.pressure_ratio - 1.0) * assumptions.ROOM_PRESSURE)


def _step_up(which: str) -> Callable[[Records], Known | None]:
    """Sizes of the step up behind the turbine: the turbine's outlet, and the first piece behind it that is as long as wide."""

    def read(records: Records) -> Known | None:
        names = [e.kind for e in records.fitted]
        if "turbine" not in names:
            return None
        at = names.index("turbine")
        turbine, behind = records.fitted[at], records.fitted[at + 1 : at + 2]
        if which == "flange":
            return _of_element(turbine, exit_of(turbine).equal_area_diameter)
        if not behind:
            return None
        if which == "pipe":
            return _of_element(behind[0], exit_of(behind[0]).equal_area_diameter)
        core = core_element(behind[0])
        return _of_element(behind[0], behind[0].length if core.tapers else 0.0)

    return read


def _after_turbine(records: Records) -> Known:
    return _usual(1.0e4, "a free pipe’s; the path reckons yours")


FILL: dict[str, Callable[[Records], Known | None]] = {
    "bore": lambda r: _of_card(r.vehicle.bore),
    "stroke": lambda r: _of_card(r.vehicle.stroke),
    "cylinders": lambda r: _of_card(r.vehicle.cylinders),
    "strokes": lambda r: _of_card(r.vehicle.strokes),
    "compression_ratio": lambda r: _of_card(r.vehicle.compression_ratio),
    "cylinder_volume": lambda r: _of_card(cylinder_of(r.vehicle)),
    "displacement": lambda r: _of_card(r.engine.displacement),
    "band_from": lambda r: _of_card(r.vehicle.band_low),
    "band_to": lambda r: _of_card(r.vehicle.band_end),
    "redline": lambda r: _of_card(r.vehicle.redline),
    "case_volume": lambda r: _of_card(r.vehicle.case_volume),
    "filling": lambda r: _usual(r.assumed.filling),
    "consumption": lambda r: _usual(r.assumed.consumption),
    "air_fuel_ratio": lambda r: _usual(r.assumed.air_fuel_ratio),
    "hot": lambda r: _usual(r.assumed.exhaust_temperature),
    "pipe_temperature": lambda r: _usual(0.85 * r.assumed.exhaust_temperature, "a sixth cooler than at the port"),
    "tail_temperature": lambda r: _usual(0.65 * r.assumed.exhaust_temperature, "a third cooler than at the port"),
    "runner_temperature": lambda r: _usual(assumptions.RUNNER_TEMPERATURE, "air warmed by the port’s wall"),
    "room_temperature": lambda r: _usual(assumptions.ROOM_TEMPERATURE, "20 °C"),
    "room_pressure": lambda r: _usual(assumptions.ROOM_PRESSURE, "the standard atmosphere"),
    "speed": _target_speed,
    "tuned_speed": _tuned_speed,
    "torque_speed": _tuned_speed,
    "power": _target_power,
    "velocity": _velocity,
    "throttle_velocity": lambda r: _usual(60.0, "50 to 90 m/s are in use"),
    "face_velocity": lambda r: _usual(sizes.FACE_VELOCITY, "6 cfm an in²"),
    "primary_velocity": lambda r: _usual(74.7, "the 88,200 rule’s"),
    "index": lambda r: _usual(sizes.MACH_LIMIT, "Taylor, from memory"),
    "coefficient": lambda r: _usual(sizes.MEAN_COEFFICIENT, "0.3 to 0.4 are found"),
    "valves": lambda r: _usual(2, "two inlet valves"),
    "one": lambda r: _usual(1, "one"),
    "two": lambda r: _usual(2, "two"),
    "reflection": lambda r: _usual(assumptions.REFLECTION, "the fourth return"),
    "frequency_ratio": lambda r: _usual(2.1, "2.1 to 2.5 are in use"),
    "area": _section_area,
    "section_temperature": _section_temperature,
    "runner_length": _runner_length,
    "runner_area": _runner_area,
    "runner_bore": _runner_bore,
    "air_flow": _air_flow,
    "gas_flow": _gas_flow,
    "intake_duration": _duration("intake"),
    "exhaust_duration": _duration("exhaust"),
    "transfer_duration": _duration("transfer"),
    "exhaust_opens": _reading("exhaust_opens"),
    "intake_closes": _reading("intake_closes"),
    "inlet_length": _window("inlet_length"),
    "window_area": _window("area"),
    "plenum": _plenum,
    "exhaust_port": _exhaust_port,
    "exhaust_port_length": _exhaust_port_length,
    "primary_length": _primary_length,
    "primary_bore": _bore_of("primary"),
    "throttle_bore": _bore_of("throttle"),
    "pipe_bore": _bore_of("pipe", "downpipe"),
    "pipe_length": _pipe_length,
    "pipe_bends": _pipe_bends,
    "pipe_drop": lambda r: _usual(1.0e4, "a free road exhaust’s"),
    "tail": _tail,
    "boost": _boost,
    "efficiency": lambda r: _usual(0.70, "a road turbo’s"),
    "turbine_efficiency": lambda r: _usual(0.65, "a road turbo’s"),
    "mechanical": lambda r: _usual(0.97, "common practice"),
    "effectiveness": lambda r: _usual(
        0.70 if r.first("intercooler") is not None else 0.0, "with its cooler, or none on the path"
    ),
    "no_loss": lambda r: _usual(0.0, "none counted"),
    "after_turbine": _after_turbine,
    "flange": _step_up("flange"),
    "behind": _step_up("pipe"),
    "cone": _step_up("cone"),
    "no_wall": lambda r: _usual(0.0, "inside diameters are told"),
    "wave": lambda r: _usual(518.16, "1,700 ft/s"),
    "header": lambda r: _usual(1.1, "1.05 racing to 1.125 broad"),
    "belly": lambda r: _usual(2.6, "2.1 broad to 3.25 racing"),
    "stinger": lambda r: _usual(0.62, "0.58 to 0.70"),
    "friction": lambda r: _usual(0.3, "0.25 to 0.4 dry"),
    "step": lambda r: _usual(1.0, "a single gear"),
    "consumed_drop": lambda r: _usual(assumptions.RATED_FUEL_DROP, "3 bar"),
    "dead_time": lambda r: _usual(assumptions.INJECTOR_DEAD_TIME, "1 ms"),
    "fuel_density": lambda r: _usual(fuel_named(r.vehicle.fuel).density, f"{r.vehicle.fuel}, from memory"),
}
"""What the records know, by name."""


def known(records: Records, name: str) -> Known | None:
    """What is known under a name of `FILL`; nothing where a record cannot be used."""
    try:
        return FILL[name](records)
    except InputError:
        return None
