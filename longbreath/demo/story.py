"""The demo as files: chapters of entries (TOML), tables of entries (CSV), and the folders beside them that hold logs and pictures."""

from __future__ import annotations

import csv
import os
import re
import tomllib
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

OWN = Path(__file__).parents[2] / "demo" / "shop"
"""The shop that ships with the product."""
SHOP = Path(os.environ.get("LONGBREATH_SHOP") or OWN)
"""Where the demo's shop lies: a folder a chapter, in the order of their names."""
CHAPTER = "chapter.toml"
_UNIT = re.compile(r"^(?P<name>\w+)(?: \[(?P<unit>.+)\])?$")
_NUMBER = re.compile(r"^[+\-−]?[\d.,/ ]+$")


class StoryError(ValueError):
    """An entry that cannot be told; the message names its file, its number and what is wrong."""


@dataclass(frozen=True)
class Entry:
    """One thing that somebody did: where it is written, what was done, and what was said of it.

    folder: what files are named from. said: everything else of the entry, by name; sizes as people write them ("84.6 mm").
    """

    where: str
    folder: Path
    do: str
    said: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Chapter:
    """A chapter: what it tells of, in words, and its entries in order."""

    words: str
    entries: tuple[Entry, ...]


def chapters(shop: Path = SHOP) -> Iterator[Chapter]:
    """The chapters of a shop in the order of their folders. Raises StoryError where there is none, or one that cannot be read."""
    found = sorted(shop.glob(f"*/{CHAPTER}"))
    if not found:
        raise StoryError(f"{shop}: no folder in it holds a {CHAPTER}")
    for path in found:
        yield chapter(path)


def chapter(path: Path) -> Chapter:
    """One chapter. Raises StoryError for a file that cannot be read, or an entry without its `do`."""
    try:
        told = tomllib.loads(path.read_text("utf-8"))
    except (tomllib.TOMLDecodeError, OSError) as error:
        raise StoryError(f"{path}: {error}") from None
    found: list[Entry] = []
    for number, said in enumerate(told.get("entry", []), start=1):
        where = f"{path.parent.name}/{path.name}, entry {number}"
        if not isinstance(said.get("do"), str):
            raise StoryError(f'{where}: say what is done: do = "…"')
        found += _rows(where, path.parent, {**told.get("usual", {}).get(said["do"], {}), **said})
    return Chapter(str(told.get("chapter", path.parent.name)), tuple(found))


def _rows(where: str, folder: Path, said: dict[str, Any]) -> Iterator[Entry]:
    """An entry as it stands, or one for each row of the table that it names by `rows`."""
    do = said.pop("do")
    table = said.pop("rows", None)
    if not isinstance(table, str):
        yield Entry(where, folder, do, said if table is None else {**said, "rows": table})
        return
    for line, row in enumerate(table_rows(folder / table), start=2):
        yield Entry(f"{where}, {table} line {line}", folder, do, {**said, **row})


def table_rows(path: Path) -> Iterator[dict[str, str]]:
    """The rows of a table by the names of its columns; an empty cell is left out.

    A column “length [mm]” gives its unit to bare numbers: “84.6” becomes “84.6 mm”; a cell with a unit of its own keeps it.
    Raises StoryError for a table that cannot be read.
    """
    try:
        with path.open(encoding="utf-8", newline="") as file:
            header, *rows = csv.reader(file)
    except (OSError, ValueError, csv.Error) as error:
        raise StoryError(f"{path}: {error}") from None
    columns = [_UNIT.match(name.strip()) for name in header]
    if None in columns:
        raise StoryError(f"{path}: a column is called by one word, with its unit in brackets: length [mm]")
    for row in rows:
        cells = zip(columns, row, strict=False)
        yield {
            column["name"]: _with_unit(cell.strip(), column["unit"])
            for column, cell in cells
            if column and cell.strip()
        }


def _with_unit(cell: str, unit: str | None) -> str:
    return f"{cell} {unit}" if unit and _NUMBER.match(cell) else cell
