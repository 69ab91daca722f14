"""Port outlines of SVG, DXF and columns of x and y: the largest closed one. Metres, y upwards."""

from __future__ import annotations

import io
import re
from collections.abc import Iterable, Sequence
from math import isfinite

import numpy as np
import shapely
from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException
from ezdxf import filemanagement
from ezdxf import path as dxf_path
from shapely import LineString, Polygon
from svgelements import SVG, Close, Path, Shape

from longbreath.core.basis.errors import InputError
from longbreath.formats.readers import Told
from longbreath.formats.readers.bounds import FARTHEST, MOST_DEPTH, MOST_DRAWING, MOST_POINTS, MOST_SHAPES

Points = Sequence[tuple[float, float]]
MM = 0.001
FINE = 0.00001
"""Curves are broken into straight pieces that stay within this of them [m]."""
JOINED = 0.000001
"""Ends of lines nearer than this are one corner [m]."""
PX_PER_MM = 96.0 / 25.4
DXF_UNITS = {1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0}
DXF_KINDS = ("LWPOLYLINE", "POLYLINE", "CIRCLE", "ELLIPSE", "SPLINE", "LINE", "ARC")
TOO_MANY_POINTS = f"The outline has more than {MOST_POINTS} points: simplify it first."
TOO_MANY_SHAPES = f"This drawing holds more than {MOST_SHAPES} shapes. Save the one outline by itself."


def read(data: bytes, filename: str) -> Told:
    """The points (n, 2) of the largest closed outline of a file [m] as float64. Raises InputError if there is none."""
    if len(data) > MOST_DRAWING:
        raise InputError(f"This drawing is larger than {MOST_DRAWING // 1024 // 1024} MB.", "file")
    readers = {"svg": read_svg, "dxf": read_dxf, "csv": read_points, "txt": read_points}
    return {}, np.array(_largest(readers[filename.lower().rsplit(".", 1)[-1]](data)), dtype=np.float64).tobytes()


def _largest(loops: Iterable[Points]) -> Points:
    shapes = [(_polygon(loop).area, loop) for loop in loops if len(loop) >= 3]
    if not shapes:
        raise InputError("This file holds no closed outline.", "file")
    area, loop = max(shapes, key=lambda item: item[0])
    if not area > 0:
        raise InputError("The outline has no area.", "file")
    return loop[:-1] if loop[0] == loop[-1] else loop


def _polygon(loop: Points) -> Polygon:
    if len(loop) > MOST_POINTS:
        raise InputError(TOO_MANY_POINTS, "file")
    for at in loop:
        if not all(isfinite(x) and abs(x) <= FARTHEST for x in at):
            words = (
                f"The outline has a point that lies farther than {FARTHEST:.0f} m away, or nowhere. Is its unit right?"
            )
            raise InputError(words, "file")
    return Polygon(loop)


def read_svg(data: bytes) -> list[Points]:
    """Closed shapes and paths of an SVG [m]; a drawing without units counts 96 pixels an inch. Raises InputError."""
    drawing = SVG.parse(io.BytesIO(_plain_svg(data)), reify=True)
    found = []
    for element in drawing.elements():
        if isinstance(element, Shape):
            for part in Path(element).as_subpaths():
                sub = Path(part)
                if any(isinstance(segment, Close) for segment in sub):
                    found.append(_svg_points(sub))
    return found


def _plain_svg(data: bytes) -> bytes:
    """The drawing written anew in one encoding, without declarations. Raises InputError for what would grow when it is drawn."""
    try:
        root = ElementTree.fromstring(data, forbid_dtd=True)
    except DefusedXmlException:
        raise InputError("This SVG declares a document type of its own; save it as plain SVG.", "file") from None
    except (ElementTree.ParseError, ValueError, LookupError):
        raise InputError("This SVG cannot be read.", "file") from None
    shapes, layer, depth = 0, [root], 0
    while layer:
        shapes, depth = shapes + len(layer), depth + 1
        if shapes > MOST_SHAPES or depth > MOST_DEPTH:
            raise InputError(TOO_MANY_SHAPES, "file")
        if any(str(element.tag).rpartition("}")[2] == "use" for element in layer):
            words = "This SVG repeats parts by reference (“use”). Save it with every part drawn out."
            raise InputError(words, "file")
        layer = [child for element in layer for child in element]
    return bytes(ElementTree.tostring(root))


def _svg_points(path: Path) -> Points:
    points: list[tuple[float, float]] = []
    for segment in path:
        pieces = 1 if type(segment).__name__ in ("Move", "Line", "Close") else 32
        for i in range(1, pieces + 1):
            at = segment.point(i / pieces)
            if at is not None:
                points.append((float(at.x) / PX_PER_MM * MM, -float(at.y) / PX_PER_MM * MM))
        if len(points) > MOST_POINTS:
            raise InputError(TOO_MANY_POINTS, "file")
    return points


def read_dxf(data: bytes) -> list[Points]:
    """Closed polylines, circles, ellipses, splines, and what lines and arcs enclose, of a DXF [m]. Raises InputError."""
    try:
        document = filemanagement.read(io.StringIO(data.decode("utf-8", errors="replace").replace("\r\n", "\n")))
    except MemoryError:
        raise
    except Exception:  # a damaged file breaks the reader in many ways
        raise InputError("This DXF cannot be read.", "file") from None
    scale = DXF_UNITS.get(document.units, 1.0) * MM
    drawn = [e for e in document.modelspace() if e.dxftype() in DXF_KINDS]
    if len(drawn) > MOST_SHAPES:
        raise InputError(TOO_MANY_SHAPES, "file")
    closed: list[Points] = []
    loose: list[Points] = []
    for entity in drawn:
        path = dxf_path.make_path(entity)
        points = _flat(path, scale)
        (closed if path.is_closed else loose).append(points)
    return closed + _enclosed(loose)


def _flat(path: dxf_path.Path, scale: float) -> Points:
    points = []
    for at in path.flattening(FINE / scale):
        points.append((at.x * scale, at.y * scale))
        if len(points) > MOST_POINTS:
            raise InputError(TOO_MANY_POINTS, "file")
    return points


def _enclosed(lines: Sequence[Points]) -> list[Points]:
    """The rims of what lines enclose together, corner to corner, whatever order and direction they were drawn in."""
    kept = [line for line in lines if len(set(line)) > 1 and all(isfinite(x) for at in line for x in at)]
    if sum(map(len, kept)) > MOST_POINTS:
        raise InputError(TOO_MANY_POINTS, "file")
    rounded = shapely.set_precision([LineString(line) for line in kept], JOINED, mode="pointwise")
    faces = shapely.get_parts(shapely.polygonize(rounded))
    return [list(face.exterior.coords) for face in shapely.get_parts(shapely.unary_union(faces))]


def read_points(data: bytes) -> list[Points]:
    """Columns of x and y in millimetres, once round the rim; headings and blank lines are passed over."""
    points: list[tuple[float, float]] = []
    for line in data.decode("utf-8-sig", errors="replace").splitlines():
        parts = [p for p in re.split(r"[;,\t ]+", line.strip()) if p]
        try:
            points.append((float(parts[0]) * MM, float(parts[1]) * MM))
        except (ValueError, IndexError):
            continue
        if len(points) > MOST_POINTS:
            raise InputError(TOO_MANY_POINTS, "file")
    return [points] if points else []
