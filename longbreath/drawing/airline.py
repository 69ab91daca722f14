"""The air line: the measured path drawn to one scale, from mouth to tail, in a thin strip."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi, sqrt

HEIGHT = 74
MIDDLE = 30
TALLEST = 46.0
LABEL_WIDTH = 6.4


@dataclass(frozen=True)
class LineElement:
    """One element to draw: key for its link, name, side, length and height at entry and exit [m]."""

    key: int
    name: str
    kind: str
    side: str
    length: float
    entry: float
    exit: float


@dataclass(frozen=True)
class Shape:
    """One drawn element: polygon points, where its label stands (None if there is no room), and the piece."""

    piece: LineElement
    points: str
    label_x: float | None


@dataclass(frozen=True)
class AirLine:
    """The whole strip: its size in drawing units, shapes in order, and millimetres per hundred units."""

    width: float
    height: float
    shapes: tuple[Shape, ...]
    scale_mm: float
    length: float


def height_of_volume(volume: float, length: float) -> float:
    """Diameter [m] of the round vessel that holds `volume` [m3] over `length` [m]."""
    return sqrt(4.0 * volume / (pi * length))


def air_line(pieces: list[LineElement], width: float = 1080.0) -> AirLine:
    """Lay pieces end to end at one scale for lengths and heights, as large as the strip allows."""
    length = sum(piece.length for piece in pieces)
    tallest = max((max(piece.entry, piece.exit) for piece in pieces), default=0.0)
    if length <= 0 or tallest <= 0:
        return AirLine(width, HEIGHT, (), 0.0, 0.0)
    scale = min(width / length, TALLEST / tallest)
    drawn, x = [], 0.0
    for piece in pieces:
        right = x + piece.length * scale
        top, bottom = piece.entry * scale / 2, piece.exit * scale / 2
        corners = ((x, -top), (right, -bottom), (right, bottom), (x, top))
        drawn.append((piece, " ".join(f"{px:.1f},{MIDDLE + py:.1f}" for px, py in corners), (x + right) / 2))
        x = right
    labels = _labels([(centre, piece) for piece, _, centre in drawn], max(width, x))
    shapes = tuple(Shape(piece, points, labels.get(n)) for n, (piece, points, _) in enumerate(drawn))
    return AirLine(max(width, x), HEIGHT, shapes, 100.0 / scale * 1000.0, length)


def _labels(places: list[tuple[float, LineElement]], width: float) -> dict[int, float]:
    """Where the names stand; the longest elements get theirs first, and those without room get none."""
    taken: list[tuple[float, float]] = []
    found: dict[int, float] = {}
    for number, (centre, piece) in sorted(enumerate(places), key=lambda item: -item[1][1].length):
        half = len(piece.kind) * LABEL_WIDTH / 2 + 3
        at = min(max(centre, half), width - half)
        if all(at + half <= low or at - half >= high for low, high in taken):
            taken.append((at - half, at + half))
            found[number] = round(at, 1)
    return found
