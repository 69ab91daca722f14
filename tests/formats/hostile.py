"""Files meant to hurt: a corpus that is kept, files that are made because they would be too large to keep, and mutations of both.

A file that ever broke something goes into `corpus/` (or, where it is large, into `ATTACKS`), so that it is tried every time.
"""

from __future__ import annotations

import io
import random
import re
import zipfile
import zlib
from collections.abc import Callable, Iterator
from pathlib import Path

import ezdxf
import openpyxl
from PIL import Image

CORPUS = Path(__file__).parent / "corpus"
HEAD = b'<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="80mm" viewBox="0 0 100 80">'
NUMBERS = (
    b"1e308",
    b"-1e308",
    b"nan",
    b"inf",
    b"-inf",
    b"0",
    b"-1",
    b"1e-320",
    b"9" * 400,
    b"\xc2\xb2",
    b"1e999",
    b"0x1p3",
)


def seeds(*endings: str) -> list[Path]:
    """The kept files of some endings."""
    return sorted(path for path in CORPUS.iterdir() if path.suffix.lstrip(".") in endings)


def mutations(kind: str, number: int) -> Iterator[tuple[str, bytes]]:
    """Mutated files of a kind ("csv", "xlsx", "svg", "dxf", "photo"), the same ones every time: name and bytes."""
    endings = ("png", "jpg", "webp") if kind == "photo" else (kind,)
    found = seeds(*endings)
    chance = random.Random(f"{kind} 13")
    for turn in range(number):
        path = found[turn % len(found)]
        data = path.read_bytes()
        for _ in range(chance.choice((1, 1, 2, 4))):
            data = _mutated(data, kind, chance)
        yield path.name, data


def _mutated(data: bytes, kind: str, chance: random.Random) -> bytes:
    ways: list[Callable[[bytes, random.Random], bytes]] = [_bytes, _cut, _doubled]
    if kind != "photo":
        ways += [_value, _value, _lines]
    if kind == "svg":
        ways += [_nested, _attribute]
    if kind == "xlsx":
        return _member(data, chance)
    return chance.choice(ways)(data, chance)


def _bytes(data: bytes, chance: random.Random) -> bytes:
    found = bytearray(data or b"\0")
    for _ in range(chance.choice((1, 3, 20))):
        found[chance.randrange(len(found))] = chance.choice((0, 0xFF, chance.randrange(256)))
    return bytes(found)


def _cut(data: bytes, chance: random.Random) -> bytes:
    a, b = sorted(chance.randrange(len(data) + 1) for _ in range(2))
    return data[:a] + data[b:]


def _doubled(data: bytes, chance: random.Random) -> bytes:
    a, b = sorted(chance.randrange(len(data) + 1) for _ in range(2))
    return data[:b] + data[a:b] * chance.choice((1, 5, 40)) + data[b:]


def _value(data: bytes, chance: random.Random) -> bytes:
    """Another number where one stands."""
    places = list(re.finditer(rb"-?\d+(?:\.\d+)?", data))
    if not places:
        return data
    place = chance.choice(places)
    return data[: place.start()] + chance.choice(NUMBERS) + data[place.end() :]


def _lines(data: bytes, chance: random.Random) -> bytes:
    lines = data.split(b"\n")
    chance.shuffle(lines)
    return b"\n".join(lines[: chance.randrange(1, len(lines) + 1)])


def _nested(data: bytes, chance: random.Random) -> bytes:
    deep = chance.choice((3, 60, 2000))
    return data.replace(b"<path", b"<g>" * deep + b"<path", 1).replace(b"/></", b"/>" + b"</g>" * deep + b"</", 1)


def _attribute(data: bytes, chance: random.Random) -> bytes:
    added = chance.choice(
        (
            b' transform="scale(1e300)"',
            b' transform="matrix(nan 0 0 1 0 0)"',
            b' viewBox="0 0 0 0"',
            b' width="1e99in"',
            b' href="file:///etc/passwd"',
            b' d="M' + b"1 " * 500 + b'z"',
        )
    )
    return data.replace(b" ", added + b" ", 1)


def _member(data: bytes, chance: random.Random) -> bytes:
    """A workbook with one of its parts mutated, left out, or doubled; now and then the archive itself is."""
    if chance.random() < 0.25:
        return chance.choice((_bytes, _cut))(data, chance)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        try:
            archive = zipfile.ZipFile(io.BytesIO(data))
            names = archive.namelist()
            for name in names:
                archive.read(name)
        except (zipfile.BadZipFile, zlib.error, OSError, ValueError, KeyError, EOFError, NotImplementedError):
            return data  # broken already
        chosen, way = chance.choice(names), chance.choice((_bytes, _cut, _doubled, _value, _value))
        for name in names:
            content = archive.read(name)
            if name == chosen and chance.random() < 0.1:
                continue
            made.writestr(name, way(content, chance) if name == chosen else content)
    return out.getvalue()


def _workbook(rows: list[list[object]]) -> bytes:
    book = openpyxl.Workbook()
    for row in rows:
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _shared_strings(megabytes: int) -> bytes:
    """A workbook whose table of words spreads out to many megabytes."""
    out = io.BytesIO()
    words = b'<sst xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">'
    words += b"<si><t>a</t></si>" * (megabytes * 1024 * 1024 // 17) + b"</sst>"
    with zipfile.ZipFile(CORPUS / "sheet.xlsx") as archive, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for name in archive.namelist():
            if name != "xl/sharedStrings.xml":
                made.writestr(name, archive.read(name))
        made.writestr("xl/sharedStrings.xml", words)
    return out.getvalue()


def _last_column() -> bytes:
    book = openpyxl.Workbook()
    for row in range(1, 2001):
        book.active.cell(row, 16384, 1)
        book.active.cell(row, 1, row)
        book.active.cell(row, 2, row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _grid(side: int) -> bytes:
    """Lines that make a grid: a search for every loop of it would not end."""
    document = ezdxf.new("R12")
    document.units = 4
    for i in range(side):
        for j in range(side - 1):
            document.modelspace().add_line((i, j), (i, j + 1))
            document.modelspace().add_line((j, i), (j + 1, i))
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def _photo(kind: str, side: int) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (side, side)).save(out, kind)
    return out.getvalue()


def _dxf_of(code: bytes) -> bytes:
    return (CORPUS / "port.dxf").read_bytes().replace(b"\n42.0\n", b"\n" + code + b"\n")


def _log(columns: int, rows: int) -> bytes:
    return b",".join(b"c%d" % n for n in range(columns)) + b"\n" + (b"1.5," * (columns - 1) + b"2\n") * rows


def _nested_use(depth: int) -> bytes:
    parts = b'<g id="g0"><circle cx="5" cy="5" r="4"/></g>'
    for n in range(1, depth):
        parts += b'<g id="g%d">' % n + b'<use href="#g%d"/>' % (n - 1) * 8 + b"</g>"
    return HEAD + parts + b"</svg>"


ENTITIES = b'<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]>' + HEAD + b"&b;</svg>"

ATTACKS: dict[str, tuple[str, Callable[[], bytes], str]] = {
    "digits without end": ("a.svg", lambda: HEAD + b'<polygon points="' + b"1" * 3000 + b'"/></svg>', "longer than"),
    "5,000 circles": (
        "a.svg",
        lambda: HEAD + b'<circle cx="1" cy="1" r="3"/>' * 5000 + b"</svg>",
        "more than 200 shapes",
    ),
    "nested use": ("a.svg", lambda: _nested_use(9), "repeats parts"),
    "deep groups": ("a.svg", lambda: HEAD + b"<g>" * 5000 + b"</g>" * 5000 + b"</svg>", "more than 200 shapes"),
    "entities": ("a.svg", lambda: ENTITIES, "document type"),
    "entities in UTF-16": ("a.svg", lambda: ENTITIES.decode().encode("utf-16"), "document type"),
    "infinite outline": (
        "a.svg",
        lambda: HEAD + b'<path d="M0 0 L1e308 0 L1e308 1e308 z"/></svg>',
        "nowhere|cannot be read",
    ),
    "outline of nothing": ("a.csv", lambda: b"0,0\nnan,nan\n1,1\ninf,2\n", "nowhere"),
    "outline as large as a town": ("a.csv", lambda: b"0,0\n9e6,0\n9e6,9e6\n", "farther than 10 m"),
    "outline of a million points": ("a.csv", lambda: b"0.5,0.25\n" * 1_000_000, "larger than|more than 4000 points"),
    "DXF with infinite codes": ("a.dxf", lambda: _dxf_of(b"inf"), "nowhere|cannot be read|longer than"),
    "text as a workbook": ("a.csv", lambda: b"PK\x03\x04" + b"a,b\n1,2\n" * 20, "cannot be opened as a workbook"),
    "200 MB of shared strings": ("a.xlsx", lambda: _shared_strings(200), "spread out"),
    "rows to the last column": ("a.xlsx", _last_column, r"needs at least|no header"),
    "900,000 rows": ("a.csv", lambda: b"rpm,torque\n" + b"1000,20\n" * 900_000, "more than 50\u202f000 rows"),
    "2,000 columns": ("a.csv", lambda: (b"1," * 2000 + b"1\n") * 20, "more than 256 columns"),
    "cells without end": ("a.csv", lambda: (b"1," * 200 + b"1\n") * 20_000, "more than 500\u202f000 cells"),
    "a cell over the limit": (
        "a.csv",
        lambda: b'rpm,torque\n1000,"' + b"x" * 140_000 + b'"\n',
        "more than 131072 signs",
    ),
    "a null in a text": ("a.csv", lambda: b"rpm,torque\n" + b"1000,20\n" * 2000 + b"1000,\x0020\n", "not a text file"),
    "PNG of 81 million pixels": ("a.png", lambda: _photo("PNG", 9000), "16 million pixels"),
    "JPEG of 81 million pixels": ("a.jpg", lambda: _photo("JPEG", 9000), "64 million pixels"),
}
"""Each broke something once: the file's name, what makes it, the words it is refused with."""
TAKEN: dict[str, tuple[str, Callable[[], bytes]]] = {
    "a grid of lines, 5 by 5": ("a.dxf", lambda: _grid(5)),
    "a grid of lines, 9 by 9": ("a.dxf", lambda: _grid(9)),
    "a JPEG of 36 million pixels": ("a.jpg", lambda: _photo("JPEG", 6000)),
    "a log of 40 columns and 10,000 rows": ("a.csv", lambda: _log(40, 10_000)),
}
"""Large but honest: these are taken."""
