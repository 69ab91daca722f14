"""What is sought in the log of a pull: each channel with the units it comes in and the words that name it."""

from __future__ import annotations

from longbreath.core.pull import channels as ch
from longbreath.formats.mapping import Sought

SPEEDS, TEMPERATURES, TIMES = ("rpm", "rad/s"), ("°C", "°F", "K"), ("s", "ms", "min")
PRESSURES, SHARES = ("kPa", "bar", "psi", "hPa", "Pa", "inHg", "mmHg"), ("%", "of one")
FLOWS = ("kg/h", "g/s", "lb/min", "kg/s")


def _channel(name: str, unit_choices: tuple[str, ...], *words: str) -> Sought:
    found = ch.CHANNELS[name]
    return Sought(name, found.label, found.kind, unit_choices, words, found.required)


PULL_CHANNELS = (
    _channel(
        ch.SPEED,
        SPEEDS,
        "rpm",
        "enginespeed",
        "enginerpm",
        "speed",
        "revs",
        "drehzahl",
        "regime",
        "régime",
        "giri",
        "varvtal",
        "n",
    ),
    _channel(
        ch.TORQUE,
        ("N·m", "lb-ft", "kgf·m"),
        "torque",
        "trq",
        "tq",
        "drehmoment",
        "moment",
        "couple",
        "coppia",
        "md",
        "m",
    ),
    _channel(
        ch.POWER,
        ("kW", "hp", "PS", "W"),
        "power",
        "pwr",
        "hp",
        "whp",
        "bhp",
        "kw",
        "ps",
        "leistung",
        "puissance",
        "potenza",
        "p",
    ),
    _channel(
        ch.MIXTURE,
        ("λ", "AFR"),
        "lambda",
        "λ",
        "afr",
        "mixture",
        "lam",
        "air/fuel",
        "airfuel",
        "wideband",
        "gemisch",
        "richesse",
    ),
    _channel(ch.TIME, TIMES, "time", "t", "zeit", "temps", "tempo", "elapsed", "timestamp", "timestamps", "seconds"),
    _channel(
        ch.ROLLER,
        (*SPEEDS, "Hz"),
        "roller",
        "rollerspeed",
        "rollerrpm",
        "drum",
        "drumspeed",
        "rolle",
        "rollendrehzahl",
        "rouleau",
    ),
    _channel(
        ch.ROAD,
        ("km/h", "mph", "m/s", "ft/s"),
        "roadspeed",
        "speed",
        "vehiclespeed",
        "wheelspeed",
        "vss",
        "kmh",
        "mph",
        "geschwindigkeit",
        "vitesse",
    ),
    _channel(
        ch.ABSOLUTE,
        PRESSURES,
        "map",
        "manifoldpressure",
        "manifoldabsolute",
        "mapabs",
        "saugrohrdruck",
        "absolutepressure",
        "ladedruckabs",
    ),
    _channel(
        ch.GAUGE, PRESSURES, "boost", "boostpressure", "ladedruck", "boostgauge", "gaugepressure", "suralimentation"
    ),
    _channel(
        ch.TURBINE,
        PRESSURES,
        "turbine",
        "exhaustpressure",
        "backpressure",
        "turbinepressure",
        "emap",
        "abgasgegendruck",
    ),
    _channel(ch.DUTY, SHARES, "controllerduty", "wastegateduty", "boostduty", "wgdc", "boostsolenoid"),
    _channel(ch.THROTTLE, SHARES, "throttle", "tps", "throttleposition", "pedal", "drosselklappe", "papillon"),
    _channel(
        ch.INTAKE,
        TEMPERATURES,
        "intaketemp",
        "iat",
        "inletair",
        "airtemp",
        "intakeair",
        "intakeairtemperature",
        "ansaugluft",
        "tair",
    ),
    _channel(ch.CHARGE, TEMPERATURES, "chargetemp", "chargeair", "ladeluft", "intercooler", "cact", "postcooler"),
    _channel(
        ch.COOLANT, TEMPERATURES, "coolant", "ect", "clt", "watertemp", "water", "kühlmittel", "wasser", "coolanttemp"
    ),
    _channel(ch.OIL, TEMPERATURES, "oiltemp", "oiltemperature", "öltemperatur", "toil", "oil"),
    _channel(ch.EXHAUST, TEMPERATURES, "egt", "exhausttemp", "exhaustgas", "abgastemperatur", "texh", "exhaust"),
    _channel(ch.OIL_PRESSURE, PRESSURES, "oilpressure", "oilpress", "öldruck", "poil"),
    _channel(ch.FUEL_PRESSURE, PRESSURES, "fuelpressure", "fuelpress", "railpressure", "kraftstoffdruck", "pfuel"),
    _channel(ch.AIR_FLOW, FLOWS, "airflow", "maf", "massairflow", "luftmasse", "airmass"),
    _channel(ch.FUEL_FLOW, FLOWS, "fuelflow", "fuelmass", "kraftstoffmasse", "fuelrate"),
    _channel(ch.KNOCK, ("",), "knock", "knockcount", "klopfen", "knockcounts", "cliquetis"),
    _channel(ch.INJECTOR_TIME, ("ms", "s"), "injectortime", "pulsewidth", "ipw", "einspritzzeit", "injpw", "opentime"),
    _channel(ch.INJECTOR_DUTY, SHARES, "injectorduty", "idc", "injduty", "duty"),
    _channel(ch.BATTERY, ("V", "mV"), "battery", "batteryvoltage", "vbat", "volts", "batterie", "spannung", "voltage"),
    _channel(ch.AMBIENT, PRESSURES, "barometer", "ambientpressure", "baro", "luftdruck", "cellpressure"),
)
"""What is sought in the log of a pull, the likeliest first."""
FIRST = (ch.SPEED, ch.TORQUE, ch.POWER, ch.MIXTURE, ch.TIME)
"""Channels that are asked for in any log; the others are shown where they were found."""
