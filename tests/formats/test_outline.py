"""Outlines come and go as SVG, DXF and columns; photos and documents are told by their content."""

from __future__ import annotations

import io
from math import pi

import ezdxf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from shapely import Polygon

from longbreath.core.basis.errors import InputError
from longbreath.core.bench import traverse
from longbreath.formats import media, outline

WRITERS = {"svg": outline.write_svg, "dxf": outline.write_dxf, "csv": outline.write_points}
PORT = traverse.rectangle_face(0.05, 0.032, 0.008)
HEAD = b'<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="80mm" viewBox="0 0 100 80">'


@pytest.mark.parametrize("kind", WRITERS)
@given(st.floats(0.01, 0.09), st.floats(0.01, 0.09), st.floats(0.05, 0.95))
def test_an_outline_comes_back_as_it_went(kind: str, width: float, height: float, roundness: float) -> None:
    face = traverse.rectangle_face(width, height, min(width, height) / 2 * roundness)
    back = traverse.traced_face(outline.read(f"port.{kind}", WRITERS[kind](face)))
    assert Polygon(back).area == pytest.approx(Polygon(face).area, rel=1e-4)
    assert Polygon(back).symmetric_difference(Polygon(face)).area < 1e-4 * Polygon(face).area + 1e-9


def test_svg_shapes_paths_and_transforms_and_the_largest_counts() -> None:
    drawn = (
        HEAD
        + b'<circle cx="20" cy="20" r="5"/><g transform="translate(10 10)"><path d="M0 0 h40 v20 h-40 z"/></g>'
        + b'<path d="M0 0 L90 70"/></svg>'
    )
    assert Polygon(outline.read("p.svg", drawn)).area == pytest.approx(800e-6, rel=1e-4)
    curved = HEAD + b'<path d="M30 40 a20 20 0 1 0 40 0 a20 20 0 1 0 -40 0 z"/></svg>'
    assert Polygon(outline.read("p.svg", curved)).area == pytest.approx(pi * 400e-6, rel=2e-3)


def dxf(units: int, draw: object) -> bytes:
    document = ezdxf.new("R2010")
    document.units = units
    draw(document.modelspace())  # type: ignore[operator]
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def test_dxf_circles_units_and_loose_lines_and_arcs() -> None:
    inches = dxf(1, lambda m: m.add_circle((0, 0), 1.0))
    assert Polygon(outline.read("c.dxf", inches)).area == pytest.approx(pi * 0.0254**2, rel=2e-3)

    def loose(m: object) -> None:
        for a, b in (((8, 0), (42, 0)), ((50, 8), (50, 24)), ((42, 32), (8, 32)), ((0, 24), (0, 8))):
            m.add_line(a, b)  # type: ignore[attr-defined]
        for centre, start, end in (((42, 8), 270, 0), ((42, 24), 0, 90), ((8, 24), 90, 180), ((8, 8), 180, 270)):
            m.add_arc(centre, 8, start, end)  # type: ignore[attr-defined]

    assert Polygon(outline.read("l.dxf", dxf(4, loose))).area == pytest.approx(Polygon(PORT).area, rel=1e-3)


BAD = [
    ("a.step", b"x", "comes as"),
    ("a.svg", b"nonsense <", "cannot be read"),
    ("a.svg", HEAD + b"</svg>", "no closed outline"),
    ("a.svg", b'<!DOCTYPE svg [<!ENTITY a "b">]>' + HEAD + b"</svg>", "document type"),
    ("a.dxf", b"nonsense", "cannot be read"),
    ("a.dxf", dxf(4, lambda m: m.add_line((0, 0), (1, 1))), "no closed outline"),
    ("a.csv", b"x,y\n1,2\n", "no closed outline"),
    ("a.csv", b"", "no closed outline"),
    ("a.csv", b"0,0\n1,1\n2,2\n", "no area"),
    ("a.svg", HEAD + b'<path d="M0 0 ' + b"L1 1 L2 0 " * 2100 + b'z"/></svg>', "simplify"),
]


@pytest.mark.parametrize(("name", "data", "words"), BAD, ids=range(len(BAD)))
def test_what_is_no_outline_is_refused_in_words(name: str, data: bytes, words: str) -> None:
    with pytest.raises(InputError, match=words) as problem:
        outline.read(name, data)
    assert problem.value.field == "file"


def photo(kind: str = "PNG", size: tuple[int, int] = (640, 480)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, (90, 120, 140)).save(out, kind)
    return out.getvalue()


@pytest.mark.parametrize(("kind", "media_type"), [("PNG", "image/png"), ("JPEG", "image/jpeg"), ("WEBP", "image/webp")])
def test_photos_get_a_thumbnail(kind: str, media_type: str) -> None:
    found = media.check(photo(kind))
    assert (found.media_type, found.width, found.height) == (media_type, 640, 480)
    assert found.thumbnail is not None
    with Image.open(io.BytesIO(found.thumbnail)) as small:
        assert small.size[0] <= 320
        assert small.size[1] <= 200


def test_documents_are_pdf_and_nothing_else_is_taken() -> None:
    assert media.check(b"%PDF-1.7 ...").media_type == "application/pdf"
    assert media.check(b"%PDF-1.7 ...").thumbnail is None
    for data in (b"", b"<svg onload=alert(1)>", b"MZ\x90", photo()[:200], photo("GIF"), b"x" * (media.MOST + 1)):
        with pytest.raises(InputError, match=r"empty|larger than|neither, or it is broken") as problem:
            media.check(data)
        assert problem.value.field == "file"
