"""The units that people write, and the kinds of quantity with the unit each is shown in."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True)
class Kind:
    """One kind of quantity.

    `dimension` says which units are accepted; `us` and `metric` are the symbols shown in each system;
    `word` is what an error message calls it.
    """

    name: str
    dimension: str
    us: str
    metric: str
    word: str

    def symbol(self, system: str) -> str:
        """The unit symbol of this kind in a system ("us" or "metric")."""
        return self.us if system == "us" else self.metric


SI: Final = {
    "length": "meter",
    "area": "meter**2",
    "volume": "meter**3",
    "pressure": "pascal",
    "flow": "meter**3/second",
    "mass_flow": "kilogram/second",
    "torque": "newton*meter",
    "power": "watt",
    "temperature": "kelvin",
    "speed": "radian/second",
    "velocity": "meter/second",
    "angle": "radian",
    "density": "kilogram/meter**3",
    "fraction": "dimensionless",
    "ratio": "dimensionless",
    "count": "dimensionless",
    "consumption": "kilogram/joule",
    "time": "second",
    "frequency": "hertz",
    "flow_rate": "meter**3/second**2",
    "time_area": "meter**2*second",
    "specific_time_area": "second/meter",
    "heat_transfer": "watt/meter**2/kelvin",
    "mass": "kilogram",
    "force": "newton",
    "voltage": "volt",
    "inertia": "kilogram*meter**2",
    "impulse": "newton*meter*second",
    "distance": "meter",
    "temperature_difference": "delta_degC",
    "level": "dimensionless",
    "mileage": "1/meter**2",
    "road_consumption": "meter**2",
}

# symbol, pint expression, further spellings; spellings are compared in lower case without spaces or dots
SPELT: Final[dict[str, list[tuple[str, str, str]]]] = {
    "length": [
        ("mm", "millimeter", "millimeter millimetre millimeters millimetres"),
        ("cm", "centimeter", "centimeter centimetre"),
        ("m", "meter", "meter metre"),
        ("in", "inch", 'inch inches " ″ ”'),
        ("thou", "inch/1000", "mil thousandths"),
        ("ft", "foot", "foot feet"),
    ],
    "area": [
        ("mm²", "millimeter**2", "mm2 mm^2 sqmm"),
        ("cm²", "centimeter**2", "cm2 cm^2 sqcm"),
        ("m²", "meter**2", "m2 m^2"),
        ("in²", "inch**2", "in2 in^2 sqin squareinches"),
    ],
    "volume": [
        ("cm³", "centimeter**3", "cc cm3 cm^3 ccm ml"),
        ("L", "liter", "l liter litre liters litres"),
        ("m³", "meter**3", "m3 m^3"),
        ("gal", "gallon", "usgal gallon gallons us-gal"),
        ("imp gal", "imperial_gallon", "impgal gal(imp)"),
        ("in³", "inch**3", "in3 in^3 cid cuin cubicinches"),
    ],
    "pressure": [
        ("Pa", "pascal", "pascal"),
        ("hPa", "hectopascal", "mbar millibar"),
        ("kPa", "kilopascal", ""),
        ("bar", "bar", ""),
        ("psi", "psi", "lb/in2 lbf/in2"),
        ("inH₂O", "inch_of_water_conventional", 'inh2o inwater inh20 inwc inwg inofwater "h2o'),
        ("mmH₂O", "inch_of_water_conventional/25.4", "mmh2o mmwc"),
        ("inHg", "inch_of_mercury_conventional", 'inhg inmercury "hg'),
        ("mmHg", "inch_of_mercury_conventional/25.4", "mmhg torr"),
    ],
    "flow": [
        ("cfm", "foot**3/minute", "ft3/min ft^3/min cuft/min"),
        ("L/s", "liter/second", "l/s lps"),
        ("m³/h", "meter**3/hour", "m3/h"),
        ("m³/s", "meter**3/second", "m3/s"),
        ("L/min", "liter/minute", "l/min lpm"),
        ("cm³/min", "centimeter**3/minute", "cm3/min cc/min ccm/min ml/min"),
    ],
    "mass_flow": [
        ("kg/h", "kilogram/hour", ""),
        ("g/s", "gram/second", ""),
        ("kg/s", "kilogram/second", ""),
        ("lb/min", "pound/minute", ""),
    ],
    "torque": [
        ("N·m", "newton*meter", "nm n*m n-m newtonmeter"),
        ("lb-ft", "force_pound*foot", "lbft lb·ft lbf-ft lbfft ft-lb ftlb ft-lbf ftlbs ft-lbs lb*ft"),
        ("kgf·m", "force_kilogram*meter", "kgfm kgm mkg"),
    ],
    "power": [
        ("kW", "kilowatt", "kilowatt"),
        ("W", "watt", "watt"),
        ("hp", "horsepower", "bhp whp horsepower"),
        ("PS", "metric_horsepower", "cv"),
    ],
    "temperature": [
        ("°C", "degree_Celsius", "c degc celsius ºc"),
        ("°F", "degree_Fahrenheit", "f degf fahrenheit ºf"),
        ("K", "kelvin", "kelvin"),
    ],
    "speed": [
        ("rpm", "revolution/minute", "1/min r/min min-1 u/min rev/min"),
        ("rad/s", "radian/second", ""),
        ("Hz", "revolution/second", "rev/s 1/s"),
    ],
    "velocity": [
        ("m/s", "meter/second", ""),
        ("ft/s", "foot/second", "fps"),
        ("km/h", "kilometer/hour", "kph"),
        ("mph", "mile/hour", ""),
    ],
    "angle": [("°", "degree", "deg degree degrees"), ("rad", "radian", "")],
    "density": [("kg/m³", "kilogram/meter**3", "kg/m3"), ("lb/ft³", "pound/foot**3", "lb/ft3")],
    "fraction": [("%", "percent_of_one", "percent pct"), ("of one", "dimensionless", "fraction")],
    "ratio": [("", "dimensionless", ":1 -")],
    "count": [("", "dimensionless", "off")],
    "consumption": [
        ("g/kWh", "gram/(kilowatt*hour)", ""),
        ("lb/hp·h", "pound/(horsepower*hour)", "lb/(hph) lb/hph lb/hp-h lb/(hp·h)"),
    ],
    "time": [
        ("ms", "millisecond", "msec milliseconds millisecond"),
        ("s", "second", "sec seconds"),
        ("min", "minute", "minutes"),
        ("h", "hour", "hours hrs hr"),
    ],
    "flow_rate": [("cfm/h", "foot**3/minute/hour", ""), ("L/s/h", "liter/second/hour", "l/s/h")],
    "frequency": [("Hz", "hertz", "")],
    "time_area": [("mm²·s", "millimeter**2*second", "mm2s mm²s mm2·s"), ("in²·s", "inch**2*second", "in2s in²s")],
    "specific_time_area": [("s/m", "second/meter", "mm2s/cm3 mm²·s/cm³"), ("s·in²/in³", "second/inch", "s/in")],
    "heat_transfer": [
        ("W/m²K", "watt/meter**2/kelvin", "w/(m2k) w/m2k"),
        ("BTU/h·ft²·°F", "Btu/hour/foot**2/delta_degF", "btu/hft2f"),
    ],
    "mass": [
        ("g", "gram", "gram grams"),
        ("kg", "kilogram", "kilogram kilograms"),
        ("oz", "ounce", "ounce ounces"),
        ("lb", "pound", "pound pounds lbs"),
    ],
    "force": [
        ("N", "newton", "newton newtons"),
        ("lbf", "force_pound", "lb lbs poundforce"),
        ("kgf", "force_kilogram", "kp"),
    ],
    "voltage": [("V", "volt", "volt volts"), ("mV", "millivolt", "millivolts")],
    "distance": [
        ("km", "kilometer", "kilometer kilometre kilometers kilometres"),
        ("mi", "mile", "mile miles"),
        ("m", "meter", "meter metre"),
    ],
    "impulse": [("N·m·s", "newton*meter*second", "nms"), ("lb-ft·s", "force_pound*foot*second", "lbfts lb-fts")],
    "temperature_difference": [("K", "delta_degC", "k kelvin °c c"), ("°F", "delta_degF", "f fahrenheit")],
    "level": [("dB", "dimensionless", "db")],
    "mileage": [
        ("mpg", "mile/gallon", "mi/gal milespergallon"),
        ("mpg (imp)", "mile/imperial_gallon", "mpgimp imp-mpg mpguk"),
        ("km/L", "kilometer/liter", "km/l kml"),
    ],
    "road_consumption": [
        ("L/100 km", "liter/(100*kilometer)", "l/100km"),
        ("gal/100 mi", "gallon/(100*mile)", "gal/100mi"),
    ],
    "inertia": [("kg·m²", "kilogram*meter**2", "kgm2 kgm² kg*m2"), ("lb·ft²", "pound*foot**2", "lbft2 lb-ft2 lb*ft2")],
}

ALL_KINDS: Final = [
    Kind("length", "length", "in", "mm", "a length"),
    Kind("altitude", "length", "ft", "m", "an altitude"),
    Kind("area", "area", "in²", "mm²", "an area"),
    Kind("volume", "volume", "in³", "cm³", "a volume"),
    Kind("plenum", "volume", "in³", "L", "a volume"),
    Kind("pressure", "pressure", "psi", "kPa", "a pressure"),
    Kind("column", "pressure", "inH₂O", "kPa", "a test pressure"),
    Kind("barometer", "pressure", "inHg", "hPa", "an air pressure"),
    Kind("flow", "flow", "cfm", "L/s", "a flow"),
    Kind("injector_flow", "flow", "cm³/min", "cm³/min", "an injector’s flow"),
    Kind("mass_flow", "mass_flow", "lb/min", "g/s", "a mass flow"),
    Kind("torque", "torque", "lb-ft", "N·m", "a torque"),
    Kind("power", "power", "hp", "kW", "a power"),
    Kind("temperature", "temperature", "°F", "°C", "a temperature"),
    Kind("speed", "speed", "rpm", "rpm", "an engine speed"),
    Kind("velocity", "velocity", "ft/s", "m/s", "a velocity"),
    Kind("angle", "angle", "°", "°", "an angle"),
    Kind("density", "density", "lb/ft³", "kg/m³", "a density"),
    Kind("percent", "fraction", "%", "%", "a percentage"),
    Kind("ratio", "ratio", "", "", "a plain number"),
    Kind("count", "count", "", "", "a whole number"),
    Kind("consumption", "consumption", "lb/hp·h", "g/kWh", "a fuel consumption"),
    Kind("time", "time", "s", "s", "a time"),
    Kind("dead_time", "time", "ms", "ms", "a dead time"),
    Kind("hours", "time", "h", "h", "a time"),
    Kind("minutes", "time", "min", "min", "a time"),
    Kind("flow_rate", "flow_rate", "cfm/h", "L/s/h", "a gain in flow per hour"),
    Kind("frequency", "frequency", "Hz", "Hz", "a frequency"),
    Kind("time_area", "time_area", "in²·s", "mm²·s", "a time-area"),
    Kind("specific_time_area", "specific_time_area", "s/m", "s/m", "a specific time-area"),
    Kind("mass", "mass", "oz", "g", "a mass"),
    Kind("force", "force", "lbf", "N", "a force"),
    Kind("voltage", "voltage", "V", "V", "a voltage"),
    Kind("inertia", "inertia", "lb·ft²", "kg·m²", "a moment of inertia"),
    Kind("distance", "distance", "mi", "km", "a distance"),
    Kind("fuel_volume", "volume", "gal", "L", "an amount of fuel"),
    Kind("impulse", "impulse", "lb-ft·s", "N·m·s", "an area under torque over time"),
    Kind("temperature_difference", "temperature_difference", "°F", "K", "a difference of temperature"),
    Kind("level", "level", "dB", "dB", "a level in decibels"),
    Kind("mileage", "mileage", "mpg", "km/L", "a distance on an amount of fuel"),
    Kind("road_consumption", "road_consumption", "gal/100 mi", "L/100 km", "a fuel consumption on the road"),
    Kind("body_mass", "mass", "lb", "kg", "a mass"),
    Kind("money", "ratio", "", "", "an amount of money"),
    Kind("heat_transfer", "heat_transfer", "BTU/h·ft²·°F", "W/m²K", "a heat transfer coefficient"),
]
