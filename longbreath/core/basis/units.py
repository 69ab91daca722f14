"""Units at the edge: parsing what people write, and showing SI values in the viewer's system.

Inside the core every value is an SI float (m, m2, m3, Pa, m3/s, N m, W, K, rad/s, m/s, kg/s).
Factors come from pint, with the conventional inch of water and of mercury defined here.
"""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass
from functools import lru_cache
from math import floor, isfinite, log10
from typing import Final

import pint

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.unit_tables import ALL_KINDS, SI, SPELT, Kind

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


KINDS: Final[dict[str, Kind]] = {kind.name: kind for kind in ALL_KINDS}


def _unit(dimension: str, symbol: str, expression: str, aliases: str) -> Unit:
    if dimension == "temperature":
        zero = float(_registry.Quantity(0.0, expression).to("kelvin").magnitude)
        hundred = float(_registry.Quantity(100.0, expression).to("kelvin").magnitude)
        return Unit(symbol, (hundred - zero) / 100.0, zero, tuple(aliases.split()))
    factor = float(_registry.parse_expression(expression).to(SI[dimension]).magnitude)
    return Unit(symbol, factor, 0.0, tuple(aliases.split()))


_PLAIN_DIGITS = str.maketrans("₂²³", "223")


@lru_cache(maxsize=2048)
def _tidy(unit: str) -> str:
    """A spelling of a unit, folded for comparison ("in. H2O" and "inH₂O" become "inh2o")."""
    folded = unit.translate(_PLAIN_DIGITS).lower()
    return re.sub(r"[\s.]", "", folded)


UNITS: Final[dict[str, tuple[Unit, ...]]] = {
    dimension: tuple(_unit(dimension, *row) for row in rows) for dimension, rows in SPELT.items()
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


LONGEST = 80
"""Most signs that a number with its unit has."""


def read_number(text: str, kind: str = "ratio") -> tuple[float, str]:
    """Split a text into its leading number and the rest.

    Accepts 2.25, 2,25, 2-1/4, 2 1/4, 2¼, 1/4, 7 100, 1e3. Raises InputError if there is no number, if a fraction
    divides by nought, or if a comma could be either a decimal mark or a thousands mark.
    """
    if len(text) > LONGEST:
        raise InputError(f"“{text.strip()[:20]}…” is too long to be a number with its unit.")
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


TOO_LARGE, TOO_SMALL = 1e15, 1e-18
"""No quantity of the trade [SI] is as large as the one, or as small as the other without being nought."""
LONGEST_BARE = 100.0
"""Inches of a part that nobody means by a bare number: 640 is rather 640 mm, or 0.640 in."""


def asks_unit(text: str, kind: str, system: str) -> bool:
    """Whether a bare length is written as people write two things: 062 for 0.062 in, 640 for 640 mm."""
    if kind != "length" or not re.fullmatch(r"\d+", text):
        return False
    return re.fullmatch(r"0\d+", text) is not None or (system == "us" and float(text) >= LONGEST_BARE)


def parse(text: str, kind: str, system: str = "metric") -> Understood:
    """Read what a person wrote for a quantity of `kind`; a bare number has the system's unit.

    Returns an `Understood` with the SI value. Raises InputError with a sentence that says what is wrong.
    """
    number, rest = read_number(text, kind)
    if asks_unit(bare := text.strip(), kind, system):
        whole = bare.lstrip("0") or "0"
        raise InputError(f"“{bare}” can mean 0.{bare} in or {whole} mm. Write one of those, or another unit.")
    unit = unit_of(kind, rest if rest.strip() else kind_named(kind).symbol(system))
    value = number * unit.factor + unit.offset
    if not abs(value) < TOO_LARGE:
        raise InputError(f"“{text.strip()[:40]}” is too large to be {KINDS[kind].word}.")
    if 0 < abs(value) < TOO_SMALL:
        raise InputError(f"“{text.strip()[:40]}” is too small to be {KINDS[kind].word}.")
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
