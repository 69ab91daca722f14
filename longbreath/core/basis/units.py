"""Units at the edge: parsing what people write, and showing SI values in the viewer's system.

Inside the core every value is an SI float (m, m2, m3, Pa, m3/s, N m, W, K, rad/s, m/s, kg/s).
Factors come from pint, with the conventional inch of water and of mercury defined here.
"""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass
from math import floor, isfinite, log10
from typing import Final

import pint

from longbreath.core.basis.errors import InputError

SYSTEMS: Final = ("us", "metric")

_registry: pint.UnitRegistry[float] = pint.UnitRegistry(autoconvert_offset_to_baseunit=True)
_registry.define("inch_of_water_conventional = 249.08891 pascal")
_registry.define("inch_of_mercury_conventional = 3386.38864034 pascal")
_registry.define("percent_of_one = 0.01")


@dataclass(frozen=True)
class Unit:
    """One unit that may be written: value_si = value * factor + offset."""

    symbol: str
    factor: float
    offset: float
    aliases: tuple[str, ...]


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


_SI: Final = {
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
}

# symbol, pint expression, further spellings; spellings are compared in lower case without spaces or dots
_UNITS: Final[dict[str, list[tuple[str, str, str]]]] = {
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
    "time": [("s", "second", "sec seconds"), ("min", "minute", "minutes"), ("h", "hour", "hours hrs hr")],
    "flow_rate": [("cfm/h", "foot**3/minute/hour", ""), ("L/s/h", "liter/second/hour", "l/s/h")],
    "frequency": [("Hz", "hertz", "")],
    "time_area": [("mm²·s", "millimeter**2*second", "mm2s mm²s mm2·s"), ("in²·s", "inch**2*second", "in2s in²s")],
    "specific_time_area": [("s/m", "second/meter", "mm2s/cm3 mm²·s/cm³"), ("s·in²/in³", "second/inch", "s/in")],
    "heat_transfer": [
        ("W/m²K", "watt/meter**2/kelvin", "w/(m2k) w/m2k"),
        ("BTU/h·ft²·°F", "Btu/hour/foot**2/delta_degF", "btu/hft2f"),
    ],
}

_KINDS: Final = [
    Kind("length", "length", "in", "mm", "a length"),
    Kind("area", "area", "in²", "mm²", "an area"),
    Kind("volume", "volume", "in³", "cm³", "a volume"),
    Kind("plenum", "volume", "in³", "L", "a volume"),
    Kind("pressure", "pressure", "psi", "kPa", "a pressure"),
    Kind("column", "pressure", "inH₂O", "kPa", "a test pressure"),
    Kind("barometer", "pressure", "inHg", "hPa", "an air pressure"),
    Kind("flow", "flow", "cfm", "L/s", "a flow"),
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
    Kind("hours", "time", "h", "h", "a time"),
    Kind("minutes", "time", "min", "min", "a time"),
    Kind("flow_rate", "flow_rate", "cfm/h", "L/s/h", "a gain in flow per hour"),
    Kind("frequency", "frequency", "Hz", "Hz", "a frequency"),
    Kind("time_area", "time_area", "in²·s", "mm²·s", "a time-area"),
    Kind("specific_time_area", "specific_time_area", "s/m", "s/m", "a specific time-area"),
    Kind("heat_transfer", "heat_transfer", "BTU/h·ft²·°F", "W/m²K", "a heat transfer coefficient"),
]
KINDS: Final[dict[str, Kind]] = {kind.name: kind for kind in _KINDS}


def _unit(dimension: str, symbol: str, expression: str, aliases: str) -> Unit:
    if dimension == "temperature":
        zero = float(_registry.Quantity(0.0, expression).to("kelvin").magnitude)
        hundred = float(_registry.Quantity(100.0, expression).to("kelvin").magnitude)
        return Unit(symbol, (hundred - zero) / 100.0, zero, tuple(aliases.split()))
    factor = float(_registry.parse_expression(expression).to(_SI[dimension]).magnitude)
    return Unit(symbol, factor, 0.0, tuple(aliases.split()))


def _tidy(unit: str) -> str:
    """A spelling of a unit, folded for comparison ("in. H2O" and "inH₂O" become "inh2o")."""
    folded = unit.translate(str.maketrans("₂²³", "223")).lower()
    return re.sub(r"[\s.]", "", folded)


UNITS: Final[dict[str, tuple[Unit, ...]]] = {
    dimension: tuple(_unit(dimension, *row) for row in rows) for dimension, rows in _UNITS.items()
}
_SPELLINGS: Final[dict[str, dict[str, Unit]]] = {
    dimension: {_tidy(spelling): unit for unit in units for spelling in (unit.symbol, *unit.aliases)}
    for dimension, units in UNITS.items()
}


@dataclass(frozen=True)
class Understood:
    """What a typed text was read as: SI value, the unit it was written in, and the sentence for the user."""

    value: float
    unit: Unit
    number: float

    @property
    def words(self) -> str:
        """For example "57.15 mm"."""
        return f"{tidy_number(self.number)}{_gap(self.unit.symbol)}{self.unit.symbol}"


def kind_named(name: str) -> Kind:
    """The kind of that name. Raises InputError if there is none."""
    try:
        return KINDS[name]
    except KeyError:
        raise InputError(f"There is no kind of quantity called “{name}”.") from None


def unit_of(kind: str, text: str) -> Unit:
    """The unit that `text` spells for a kind.

    Raises InputError naming the units that are accepted.
    """
    found = _SPELLINGS[kind_named(kind).dimension].get(_tidy(text))
    if found is None:
        accepted = ", ".join(unit.symbol or "no unit" for unit in UNITS[KINDS[kind].dimension])
        raise InputError(f"“{text.strip()}” is not a unit of {KINDS[kind].word}. Use one of: {accepted}.")
    return found


def guess_unit(kind: str, text: str) -> Unit | None:
    """As `unit_of`, but None for an unknown spelling."""
    return _SPELLINGS[kind_named(kind).dimension].get(_tidy(text))


_NUMBER = re.compile(
    r"""^\s*(?P<sign>[+\-−]?)\s*
    (?: (?P<whole>\d+)[\s\-]+(?P<n1>\d+)\s*/\s*(?P<d1>\d+)
      | (?P<n2>\d+)\s*/\s*(?P<d2>\d+)
      | (?P<grouped>\d{1,3}(?:[\u2009\u202f\u00a0 ]\d{3})+(?:[.,]\d+)?(?![\d/]))
      | (?P<plain>\d+(?:[.,]\d*)?|[.,]\d+)(?P<exp>[eE][+\-]?\d+)?
    )(?P<rest>.*)$""",
    re.VERBOSE | re.DOTALL,
)


def read_number(text: str, kind: str = "ratio") -> tuple[float, str]:
    """Split a text into its leading number and the rest.

    Accepts 2.25, 2,25, 2-1/4, 2 1/4, 2¼, 1/4, 7 100, 1e3. Raises InputError if there is no number, if a fraction
    divides by nought, or if a comma could be either a decimal mark or a thousands mark.
    """
    expanded = "".join(
        " " + unicodedata.normalize("NFKC", c).replace("⁄", "/")
        if unicodedata.category(c) == "No" and c not in "²³₂"
        else c
        for c in text
    ).strip()
    match = _NUMBER.match(expanded)
    if match is None:
        raise InputError(f"“{text.strip()}” does not begin with a number. Write for example “2.25 in”.")
    part = match.groupdict()
    if part["d1"] or part["d2"]:
        divisor = int(part["d1"] or part["d2"])
        if divisor == 0:
            raise InputError(f"“{text.strip()}” divides by nought.")
        value = int(part["whole"] or 0) + int(part["n1"] or part["n2"]) / divisor
    elif part["grouped"]:
        value = float(re.sub(r"[\u2009\u202f\u00a0 ]", "", part["grouped"]).replace(",", "."))
    else:
        value = float(_decimal_mark(part["plain"], kind) + (part["exp"] or ""))
    return (-value if part["sign"] in ("-", "−") else value), part["rest"]


def _decimal_mark(digits: str, kind: str) -> str:
    if re.fullmatch(r"[1-9]\d{0,2},\d{3}", digits):
        if kind == "speed":
            return digits.replace(",", "")
        whole, places = digits.split(",")
        raise InputError(f"“{digits}” can mean {whole}{places} or {whole}.{places}. Write one of those.")
    return digits.replace(",", ".")


def parse(text: str, kind: str, system: str = "metric") -> Understood:
    """Read what a person wrote for a quantity of `kind`; a bare number has the system's unit.

    Returns an `Understood` with the SI value. Raises InputError with a sentence that says what is wrong.
    """
    number, rest = read_number(text, kind)
    unit = unit_of(kind, rest if rest.strip() else kind_named(kind).symbol(system))
    value = number * unit.factor + unit.offset
    if not isfinite(value):
        raise InputError(f"“{text.strip()}” is too large to be {KINDS[kind].word}.")
    if KINDS[kind].dimension == "temperature" and value < 0:
        raise InputError(f"“{text.strip()}” is below absolute zero.")
    return Understood(value, unit, number)


def to_unit(value: float, kind: str, symbol: str) -> float:
    """An SI value in the unit with that symbol."""
    unit = unit_of(kind, symbol)
    return (value - unit.offset) / unit.factor


def from_unit(value: float, kind: str, symbol: str) -> float:
    """A value in the unit with that symbol, as SI."""
    unit = unit_of(kind, symbol)
    return value * unit.factor + unit.offset


def scale(kind: str, system: str) -> float:
    """How many SI units one display unit is (for differences and uncertainties: no offset)."""
    return unit_of(kind, kind_named(kind).symbol(system)).factor


def decimals_for(uncertainty: float) -> int:
    """Decimals that an uncertainty (in display units) allows: one digit of it, two if it begins with 1."""
    if not isfinite(uncertainty) or uncertainty <= 0:
        return 3
    exponent = floor(log10(uncertainty))
    leading = uncertainty / 10.0**exponent
    return max(0, -exponent + (1 if leading < 1.95 else 0))


def _gap(symbol: str) -> str:
    return "" if symbol in ("", "°") else "\u202f" if symbol in ("%", "°C", "°F") else "\u00a0"


def tidy_number(value: float, decimals: int | None = None, signed: bool = False, significant: int = 4) -> str:
    """A number for people: narrow spaces between thousands, a real minus sign, a plus sign where asked."""
    if not isfinite(value):
        return "–"
    if decimals is None:
        magnitude = floor(log10(abs(value))) if value else 0
        decimals = max(0, significant - 1 - magnitude)
        body = f"{abs(value):,.{decimals}f}"
        body = body.rstrip("0").rstrip(".") if "." in body else body
    else:
        body = f"{abs(value):,.{decimals}f}"
    is_zero = float(body.replace(",", "")) == 0.0
    sign = "" if is_zero else "−" if value < 0 else "+" if signed else ""
    return sign + body.replace(",", "\u202f")


def show_number(
    value: float,
    kind: str,
    system: str,
    uncertainty: float | None = None,
    signed: bool = False,
    decimals: int | None = None,
    difference: bool = False,
    significant: int = 4,
) -> str:
    """The number of `show`, without its unit. `difference` leaves an offset (°C, °F) out."""
    unit = unit_of(kind, kind_named(kind).symbol(system))
    shown = value / unit.factor if difference else (value - unit.offset) / unit.factor
    if decimals is None and uncertainty is not None and uncertainty > 0:
        decimals = decimals_for(uncertainty / unit.factor)
    if decimals is None and kind in ("speed", "count"):
        decimals = 0
    return tidy_number(shown, decimals, signed, significant)


def show(
    value: float,
    kind: str,
    system: str,
    uncertainty: float | None = None,
    signed: bool = False,
    decimals: int | None = None,
) -> str:
    """An SI value as text with its unit, in the digits that its uncertainty allows."""
    symbol = kind_named(kind).symbol(system)
    return f"{show_number(value, kind, system, uncertainty, signed, decimals)}{_gap(symbol)}{symbol}"
