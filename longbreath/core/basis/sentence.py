"""A sentence with lengths in it, said in the viewer's units."""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.core.basis import units

TENTH = 0.0002
"""Lengths in sentences are told as if good to this [m]: tenths of a millimetre, thousandths of an inch."""


@dataclass(frozen=True)
class Sentence:
    """A sentence with places for lengths, “an edge of {0}”, and those lengths [m]."""

    text: str
    lengths: tuple[float, ...] = ()

    def words(self, system: str) -> str:
        """The sentence in a display system ("us" or "metric")."""
        if not self.lengths:
            return self.text
        return self.text.format(*(units.show(length, "length", system, TENTH) for length in self.lengths))


def counted(number: int, one: str, many: str = "") -> str:
    """A number of things in words: "1 cylinder", "4 cylinders"; `many` where the plural is not `one` with an s."""
    return f"{number} {one if number == 1 else many or one + 's'}"
