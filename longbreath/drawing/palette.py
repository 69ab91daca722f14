"""The colours that charts need, for both themes; the same tokens as the style sheet's."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Palette:
    """Ink, soft ink, rule, paper, band fill, and the two fluids."""

    ink: str
    soft: str
    rule: str
    paper: str
    sheet: str
    band: str
    intake: str
    exhaust: str


PALETTES = {
    "paper": Palette("#22262B", "#5F5B53", "#DDD5C6", "#F5F1E8", "#FCFAF5", "#DDD3C0", "#1C6E78", "#B0522B"),
    "cell": Palette("#ECE6DA", "#A39C8F", "#343B3F", "#14181A", "#1B2023", "#3A4247", "#6CC0C8", "#E8976B"),
}
