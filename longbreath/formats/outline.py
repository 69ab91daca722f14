"""Port outlines in and out: SVG, DXF and columns of x and y. Lengths are metres inside, millimetres in the files."""

from __future__ import annotations

import io
import re
from collections.abc import Sequence

import ezdxf
from ezdxf import filemanagement
from ezdxf import path as dxf_path
from ezdxf.edgeminer import Deposit, find_all_loops, make_edge
from ezdxf.lldxf.const import DXFError
from shapely import Polygon
from svgelements import SVG, Close, Path, Shape

from longbreath.core.basis.errors import InputError

Points = tuple[tuple[float, float], ...]
MM = 0.001
FINE = 0.00001
"""Curves are broken into straight pieces that stay within this of them [m]."""
PX_PER_MM = 96.0 / 25.4
DXF_UNITS = {1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0}
MOST = 4000


def read(name: str, data: bytes, distance: float | None = None) -> Points:
    """The largest closed outline of a file [m], y upwards. Raises InputError if it holds none or cannot be read."""
    kind = name.lower().rsplit(".", 1)[-1]
    readers = {"svg": read_svg, "dxf": read_dxf, "csv": read_points, "txt": read_points}
    if kind not in readers:
        raise InputError("An outline comes as .svg, .dxf, or as .csv with x and y in mm.", "file")
    return _largest(readers[kind](data))


def _largest(loops: Sequence[Points]) -> Points:
    shapes = [(Polygon(loop).area, loop) for loop in loops if len(loop) >= 3]
    if not shapes:
        raise InputError("This file holds no closed outline.", "file")
    area, loop = max(shapes, key=lambda item: item[0])
    if area <= 0:
        raise InputError("The outline has no area.", "file")
    return loop[:-1] if loop[0] == loop[-1] else loop


def read_svg(data: bytes) -> list[Points]:
    """Closed shapes and paths of an SVG [m]; a drawing without units counts 96 pixels an inch. Raises InputError."""
    if b"<!ENTITY" in data or b"<!DOCTYPE" in data:
        raise InputError("This SVG declares a document type of its own; save it as plain SVG.", "file")
    try:
        drawing = SVG.parse(io.BytesIO(data), reify=True)
        found = []
        for element in drawing.elements():
            if isinstance(element, Shape):
                for part in Path(element).as_subpaths():
                    sub = Path(part)
                    if any(isinstance(segment, Close) for segment in sub):
                        found.append(_svg_points(sub))
    except InputError:
        raise
    except Exception as error:  # svgelements has no error family of its own
        raise InputError("This SVG cannot be read.", "file") from error
    return found


def _svg_points(path: Path) -> Points:
    points: list[tuple[float, float]] = []
    for segment in path:
        pieces = 1 if type(segment).__name__ in ("Move", "Line", "Close") else 32
        for i in range(1, pieces + 1):
            at = segment.point(i / pieces)
            if at is not None:
                points.append((float(at.x) / PX_PER_MM * MM, -float(at.y) / PX_PER_MM * MM))
    if len(points) > MOST:
        raise InputError(f"The outline has more than {MOST} points: simplify it first.", "file")
    return tuple(points)


def write_svg(points: Points) -> bytes:
    """An outline [m] as an SVG to scale, in millimetres."""
    xs, ys = [x for x, _ in points], [y for _, y in points]
    left, top = min(xs) / MM - 2, -max(ys) / MM - 2
    width, height = (max(xs) - min(xs)) / MM + 4, (max(ys) - min(ys)) / MM + 4
    drawn = "M" + " L".join(f"{x / MM - left:.5f} {-y / MM - top:.5f}" for x, y in points) + " Z"
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.4f}mm" height="{height:.4f}mm" '
        f'viewBox="0 0 {width:.4f} {height:.4f}"><path d="{drawn}" fill="none" stroke="black" stroke-width="0.2"/></svg>\n'
    ).encode()


def read_dxf(data: bytes) -> list[Points]:
    """Closed polylines, circles, ellipses, splines, and closed chains of lines and arcs of a DXF [m]. Raises InputError."""
    try:
        document = filemanagement.read(io.StringIO(data.decode("utf-8", errors="replace").replace("\r\n", "\n")))
    except (DXFError, OSError, ValueError, IndexError) as error:
        raise InputError("This DXF cannot be read.", "file") from error
    scale = DXF_UNITS.get(document.units, 1.0) * MM
    singles = [
        dxf_path.make_path(e)
        for e in document.modelspace()
        if e.dxftype() in ("LWPOLYLINE", "POLYLINE", "CIRCLE", "ELLIPSE", "SPLINE", "LINE", "ARC")
    ]
    chains = [p for p in singles if p.is_closed]
    loose = [p for p in singles if not p.is_closed]
    if loose:
        edges = [make_edge(p.start, p.end, p.control_vertices()[0].distance(p.end) or 1.0, payload=p) for p in loose]
        for loop in find_all_loops(Deposit(edges)):
            joined = dxf_path.Path(loop[0].start)
            for edge in loop:
                joined.append_path(edge.payload.reversed() if edge.is_reverse else edge.payload)
            chains.append(joined)
    return [tuple((v.x * scale, v.y * scale) for v in p.flattening(FINE / scale)) for p in chains]


def write_dxf(points: Points) -> bytes:
    """An outline [m] as a DXF with one closed polyline, in millimetres."""
    document = filemanagement.new("R2010")
    document.units = ezdxf.units.MM
    document.modelspace().add_lwpolyline([(x / MM, y / MM) for x, y in points], close=True)
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def read_points(data: bytes) -> list[Points]:
    """Columns of x and y in millimetres, once round the rim; headings and blank lines are passed over."""
    points = []
    for line in data.decode("utf-8-sig", errors="replace").splitlines():
        parts = [p for p in re.split(r"[;,\t ]+", line.strip()) if p]
        try:
            points.append((float(parts[0]) * MM, float(parts[1]) * MM))
        except (ValueError, IndexError):
            continue
    return [tuple(points)] if points else []


def write_points(points: Points) -> bytes:
    """Columns of x and y in millimetres."""
    return ("x_mm,y_mm\n" + "".join(f"{x / MM:.5f},{y / MM:.5f}\n" for x, y in points)).encode()
