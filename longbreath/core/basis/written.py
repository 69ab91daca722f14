"""Quantities as somebody would have written them, and the same in the other unit."""

from __future__ import annotations

from longbreath.core.basis.units import SYSTEMS, asks_unit, kind_named, show, to_unit

SHORT = 4
"""Significant digits of a number that somebody wrote: what needs more was written in another unit."""


def typed(value: float, kind: str, system: str) -> str:
    """A value [SI] as somebody would have typed it: a bare number in the system's unit where that is short, else with the
    unit of the other system where it is short there ("190 mm", not 7.480315), else seven digits: saving it again loses nothing.
    """
    own = _typed_number(value, kind, kind_named(kind).symbol(system))
    if _digits(own) <= SHORT:
        return f"{own} {kind_named(kind).symbol(system)}" if asks_unit(own, kind, system) else own
    for other in SYSTEMS:
        symbol = kind_named(kind).symbol(other)
        number = _typed_number(value, kind, symbol)
        if other != system and _digits(number) <= SHORT:
            return f"{number} {symbol}"
    return f"{own} {kind_named(kind).symbol(system)}" if asks_unit(own, kind, system) else own


def _typed_number(value: float, kind: str, symbol: str) -> str:
    number = f"{to_unit(value, kind, symbol):.7g}"
    return f"{float(number):f}".rstrip("0").rstrip(".") if "e" in number else number


def _digits(number: str) -> int:
    return len(number.replace(".", "").lstrip("-0"))


def beside(value: float, kind: str, system: str, words: str = "") -> str:
    """A value [SI] in the unit of the other system, to show beside a field; in the viewer's own where `words` have the other.

    Nothing where both systems use the same unit.
    """
    both = kind_named(kind)
    if len({both.symbol(name) for name in SYSTEMS}) == 1:
        return ""
    other = show(value, kind, next(name for name in SYSTEMS if name != system))
    return show(value, kind, system) if words == other else other
