"""What the instruments of a dyno cell say on the line: dyno, logger, weather station; and hand tools."""

from __future__ import annotations

from longbreath.core.pull import channels as ch
from longbreath.devices.protocol import DeviceLine, Dialect, Spoken, read_line, write_line

_TIME = Spoken("time", "s", 0.0, 1e7)
_SPEED = Spoken("speed", "rpm", 0.0, 3e3, decimals=1)
_PRESSURE = Spoken("pressure", "kPa", 0.0, 1.5e6, decimals=2)
_AIR = Spoken("temperature", "°C", 200.0, 1700.0, decimals=1)
_FLOW = Spoken("mass_flow", "g/s", 0.0, 5.0, decimals=2)

DYNO = Dialect(
    "dyno",
    {
        "time": _TIME,
        "speed": _SPEED,
        "roller": Spoken("speed", "rpm", 0.0, 3e3, decimals=2),
        "force": Spoken("force", "N", -5e4, 1e5, decimals=1),
        "torque": Spoken("torque", "N·m", -5e3, 2e4, decimals=2),
        "power": Spoken("power", "kW", -1e6, 5e6, decimals=2),
    },
)
"""A dyno: its clock, engine and roller speed, and either the force at the roller or the torque it makes of it."""
LOGGER = Dialect(
    "logger",
    {
        "time": _TIME,
        "speed": _SPEED,
        "mixture": Spoken("ratio", "", 0.3, 3.0),
        "manifold": _PRESSURE,
        "turbine": _PRESSURE,
        "duty": Spoken("percent", "%", -0.01, 1.01, decimals=1),
        "throttle": Spoken("percent", "%", -0.05, 1.1, decimals=1),
        "intake": _AIR,
        "charge": _AIR,
        "coolant": _AIR,
        "oil": _AIR,
        "exhaust": _AIR,
        "knock": Spoken("count", "", 0.0, 1e6, decimals=0),
        "injector": Spoken("dead_time", "ms", 0.0, 0.1, decimals=3),
        "fuelpressure": _PRESSURE,
        "battery": Spoken("voltage", "V", 0.0, 60.0, decimals=2),
        "airflow": _FLOW,
        "fuelflow": _FLOW,
    },
)
"""A logger on the engine: its own clock, engine speed, and what its sensors see."""
WEATHER = Dialect(
    "weather",
    {
        "temperature": Spoken("temperature", "°C", 223.0, 333.0, decimals=2),
        "pressure": Spoken("barometer", "hPa", 5e4, 1.15e5, decimals=2),
        "humidity": Spoken("percent", "%", 0.0, 1.0, decimals=1),
    },
)
"""A weather station in the cell: air, station pressure, relative humidity."""
TOOL = Dialect(
    "tool",
    {
        "length": Spoken("length", "mm", -1.0, 10.0),
        "mass": Spoken("mass", "g", 0.0, 1e3, decimals=2),
        "moment": Spoken("torque", "N·m", 0.0, 2e3, decimals=2),
        "temperature": _AIR,
        "pressure": Spoken("pressure", "bar", 0.0, 4e6),
        "angle": Spoken("angle", "deg", -12.6, 12.6, decimals=2),
    },
)
"""A hand tool that sends its reading when its key is pressed: callipers, bore gauge, scales, torque wrench, probe."""

CHANNEL_OF = {
    "time": ch.TIME,
    "speed": ch.SPEED,
    "roller": ch.ROLLER,
    "torque": ch.TORQUE,
    "power": ch.POWER,
    "mixture": ch.MIXTURE,
    "manifold": ch.ABSOLUTE,
    "turbine": ch.TURBINE,
    "duty": ch.DUTY,
    "throttle": ch.THROTTLE,
    "intake": ch.INTAKE,
    "charge": ch.CHARGE,
    "coolant": ch.COOLANT,
    "oil": ch.OIL,
    "exhaust": ch.EXHAUST,
    "knock": ch.KNOCK,
    "injector": ch.INJECTOR_TIME,
    "fuelpressure": ch.FUEL_PRESSURE,
    "battery": ch.BATTERY,
    "airflow": ch.AIR_FLOW,
    "fuelflow": ch.FUEL_FLOW,
}
"""The channel that each word of the line fills."""
DIALECTS = {dialect.device: dialect for dialect in (DYNO, LOGGER, WEATHER, TOOL)}


def channel_of(word: str) -> str:
    """The channel of a word of the line: "mixture2" is "mixture 2". Empty where it fills none."""
    base = word.rstrip("23456789")
    name = CHANNEL_OF.get(base, "")
    return f"{name} {word[len(base) :]}" if name and word != base else name


def read_cell_line(device: str, data: bytes) -> DeviceLine:
    """A line of one of the cell's instruments. Raises LineError with a sentence for anything that is not a whole, right one."""
    return read_line(data, DIALECTS[device])


def write_cell_line(device: str, values: dict[str, float]) -> bytes:
    """A line as it goes over the wire. values: by the words of its dialect [SI]."""
    return write_line(DeviceLine(values), DIALECTS[device])
