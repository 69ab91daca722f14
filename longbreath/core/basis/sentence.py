"""A sentence with lengths and other quantities in it, said in the viewer's units."""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM

TENTH = 0.0002
"""Lengths in sentences are told as if good to this [m]: tenths of a millimetre, thousandths of an inch."""


@dataclass(frozen=True)
class Sentence:
    """A sentence with places for quantities, “an edge of {0}”: those lengths [m], then those values [SI] with their kinds."""

    text: str
    lengths: tuple[float, ...] = ()
    values: tuple[tuple[float, str], ...] = ()

    def words(self, system: str) -> str:
        """The sentence in a display system ("us" or "metric")."""
        if not self.lengths and not self.values:
            return self.text
        shown = [units.show(length, "length", system, TENTH) for length in self.lengths]
        shown += [units.show(value, kind, system) for value, kind in self.values]
        return self.text.format(*shown)


def counted(number: int, one: str, many: str = "") -> str:
    """A number of things in words: "1 cylinder", "4 cylinders"; `many` where the plural is not `one` with an s."""
    return f"{number} {one if number == 1 else many or one + 's'}"


def rpm(speed: float) -> str:
    """A speed [rad/s] in revolutions per minute as people write it, without the unit: "4 500"."""
    return f"{speed / RPM:,.0f}".replace(",", "\u202f")
