"""What a value rests on: one scale for questions, candidates and their limits, best first."""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.core.basis.errors import InputError

MEASURED, CHOSEN, NOMINAL, SUPPLIER, ESTIMATED, MEMORY = (
    "measured",
    "chosen",
    "nominal",
    "supplier",
    "estimated",
    "memory",
)
WORDS = {
    MEASURED: "measured",
    CHOSEN: "chosen",
    NOMINAL: "nominal",
    SUPPLIER: "supplier’s figure",
    ESTIMATED: "estimated",
    MEMORY: "from memory",
}
TYPED = tuple((key, words) for key, words in WORDS.items() if key != CHOSEN)
"""What may be said of a value that somebody types in."""


@dataclass(frozen=True)
class Known:
    """One value that is known: SI number or words, what it rests on, and where it comes from in words."""

    value: float | str
    rests: str
    where: str = ""

    def __post_init__(self) -> None:
        if self.rests not in WORDS:
            raise InputError("Say what this rests on.", "rests")

    @property
    def number(self) -> float:
        """The value as a number [SI]. Raises InputError for words."""
        if isinstance(self.value, str):
            raise InputError("A number is wanted here.", "value")
        return self.value

    @property
    def words(self) -> str:
        """What it rests on, and where it comes from."""
        return f"{WORDS[self.rests]}: {self.where}" if self.where else WORDS[self.rests]
