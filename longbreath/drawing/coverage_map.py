"""The map of coverage: products down, vehicles across, one small mark a cell, however many there are. Built as text at once."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from html import escape

from markupsafe import Markup

SHOWN = {
    "gain": '<path class="up" d="M{x} 8V2"/>',
    "loss": '<path class="down" d="M{x} 8v6"/>',
    "no meaningful difference": '<path class="none" d="M{l} 8h3"/>',
}
"""How a verdict of a band is drawn: gain up, loss down, no difference a level stroke; what is not proven is a dot."""
DOT = '<circle class="dot" cx="{x}" cy="8" r=".8"/>'


@dataclass(frozen=True)
class MapSpot:
    """One cell: address, all of it in words, verdicts of the bands in their order, how its claim stands, whether something is owed."""

    address: str
    words: str
    verdicts: tuple[str, ...]
    claim: str
    owed: bool


@dataclass(frozen=True)
class MapLine:
    """One product: number, name, side, family."""

    number: int
    name: str
    side: str
    family: str


def coverage_map(
    products: Sequence[MapLine], vehicles: Sequence[tuple[int, str]], spots: Mapping[tuple[int, int], MapSpot]
) -> Markup:
    """The map as an HTML table; spots by product and vehicle. Names of vehicles stand upright where there are many."""
    dense = " is-dense" if len(vehicles) > 10 else ""
    head = "".join(f'<th scope="col"><span>{escape(name)}</span></th>' for _, name in vehicles)
    rows = "".join(_row(product, vehicles, spots) for product in products)
    return Markup(
        f'<table class="map{dense}"><caption class="sr">Products down, vehicles across</caption>'
        f'<thead><tr><th scope="col">Product</th>{head}</tr></thead><tbody>{rows}</tbody></table>'
    )


def _row(product: MapLine, vehicles: Sequence[tuple[int, str]], spots: Mapping[tuple[int, int], MapSpot]) -> str:
    cells = "".join(_cell(spots.get((product.number, number))) for number, _ in vehicles)
    name = f'<span class="swatch" aria-hidden="true"></span>{escape(product.name)}'
    return f'<tr class="is-{escape(product.side)}"><th scope="row" title="{escape(product.family)}">{name}</th>{cells}</tr>'


def _cell(spot: MapSpot | None) -> str:
    if spot is None:
        return "<td></td>"
    marks = "".join(
        (SHOWN.get(verdict) or DOT).format(x=3 + 5 * k, l=1.5 + 5 * k) for k, verdict in enumerate(spot.verdicts[:3])
    )
    owed = " is-owed" if spot.owed else ""
    words = escape(spot.words)
    picture = f'<svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">{marks}</svg>'
    return (
        f'<td><a class="spot is-{escape(spot.claim)}{owed}" href="{escape(spot.address)}" title="{words}" '
        f'aria-label="{words}">{picture}</a></td>'
    )
