"""The same day pulled anew: logs that say what others say, with a roughness of their own, so that they are pulls of their own."""

from __future__ import annotations

import io
import shutil
import zipfile
from collections.abc import Sequence
from pathlib import Path

import numpy as np
import openpyxl

SMOOTH = 9
"""Rows over which a column is smoothed; what is left is its roughness, which is dealt out anew."""


def another_folder(folder: Path, to: Path, seed: int) -> Path:
    """A copy of a chapter's folder, its logs pulled anew. Returns where it is."""
    shutil.copytree(folder, to)
    for number, path in enumerate(sorted(p for day in to.iterdir() if day.is_dir() for p in day.iterdir())):
        path.write_bytes(another(path.name, path.read_bytes(), seed + number))
    return to


def another(name: str, data: bytes, seed: int) -> bytes:
    """A log pulled anew: delimited text, a workbook with a sheet a pull, or an archive of logs."""
    rng = np.random.default_rng(seed)
    if name.endswith(".zip"):
        return _archive(data, seed)
    if name.endswith(".xlsx"):
        return _workbook(data, rng)
    return _text(data.decode("utf-8"), rng).encode("utf-8")


def _archive(data: bytes, seed: int) -> bytes:
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as new:
        for number, info in enumerate(old.infolist()):
            new.writestr(info, another(info.filename, old.read(info), 1000 * seed + number))
    return made.getvalue()


def _workbook(data: bytes, rng: np.random.Generator) -> bytes:
    book, made = openpyxl.load_workbook(io.BytesIO(data)), io.BytesIO()
    for sheet in book:
        rows = [row for row in sheet.iter_rows() if row and isinstance(row[0].value, int | float)]
        texts = _dealt_anew([[str(cell.value) for cell in row] for row in rows], rng)
        for row, words in zip(rows, texts, strict=True):
            for cell, text in zip(row, words, strict=True):
                cell.value = float(text)
    book.save(made)
    return made.getvalue()


def _text(text: str, rng: np.random.Generator) -> str:
    lines = text.splitlines()
    mark = next((sign for sign in (";", "\t") if any(sign in line for line in lines)), ",")
    cells = [line.split(mark) for line in lines]
    rows = [
        place for place, row in enumerate(cells) if len(row) > 2 and row[0].replace(",", "").replace(".", "").isdigit()
    ]
    comma = mark != "," and any("," in cells[place][1] + cells[place][-1] for place in rows)
    plain = [[cell.replace(",", ".") if comma else cell for cell in cells[place]] for place in rows]
    for place, row in zip(rows, _dealt_anew(plain, rng), strict=True):
        lines[place] = mark.join(cell.replace(".", ",") if comma else cell for cell in row)
    return "\n".join(lines) + "\n"


def _dealt_anew(rows: Sequence[Sequence[str]], rng: np.random.Generator) -> list[list[str]]:
    """Rows of figures, each column's roughness dealt out over them in another order, the same for all columns."""
    if len(rows) <= SMOOTH:
        return [list(row) for row in rows]
    values = np.array([[float(cell) for cell in row] for row in rows])
    around = np.pad(values, ((SMOOTH // 2, SMOOTH // 2), (0, 0)), mode="reflect", reflect_type="odd")
    smooth = np.lib.stride_tricks.sliding_window_view(around, SMOOTH, axis=0).mean(axis=2)
    made = smooth + (values - smooth)[rng.permutation(len(rows))]
    places = [max(len(row[column].partition(".")[2]) for row in rows) for column in range(values.shape[1])]
    return [[f"{value:.{digits}f}" for value, digits in zip(row, places, strict=True)] for row in made]
