"""Port outlines in and out: SVG, DXF and columns of x and y. Lengths are metres inside, millimetres in the files."""

from __future__ import annotations

import io

import ezdxf
import numpy as np
from ezdxf import filemanagement

from longbreath.core.basis.errors import InputError
from longbreath.formats import apart

Points = tuple[tuple[float, float], ...]
KINDS = ("svg", "dxf", "csv", "txt")
MM = 0.001


def read(filename: str, data: bytes) -> Points:
    """The largest closed outline of a file [m], y upwards. Raises InputError if it holds none or cannot be read."""
    if filename.lower().rpartition(".")[2] not in KINDS:
        raise InputError("An outline comes as .svg, .dxf, or as .csv with x and y in mm.", "file")
    _, block = apart.opened("outline", data, filename, filename=filename)
    return tuple((float(x), float(y)) for x, y in np.frombuffer(block, dtype=np.float64).reshape(-1, 2))


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


def write_dxf(points: Points) -> bytes:
    """An outline [m] as a DXF with one closed polyline, in millimetres."""
    document = filemanagement.new("R2010")
    document.units = ezdxf.units.MM
    document.modelspace().add_lwpolyline([(x / MM, y / MM) for x, y in points], close=True)
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def write_points(points: Points) -> bytes:
    """Columns of x and y in millimetres."""
    return ("x_mm,y_mm\n" + "".join(f"{x / MM:.5f},{y / MM:.5f}\n" for x, y in points)).encode()
