"""Channels of pulls as CSV, and read again from the raw files: both must say the same."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.errors import InputError
from longbreath.core.case import seen
from longbreath.core.pull.channels import CHANNELS, base_of
from longbreath.formats import log, pull_read
from longbreath.formats import mapping as mapped
from longbreath.formats.log import Part
from longbreath.proof.case import raw_path
from longbreath.proof.pack import sha256

Array = npt.NDArray[np.float64]
SAME = 1e-9
"""Figures read from a file again may differ by this share: another machine rounds the last bit otherwise."""


@dataclass(frozen=True)
class Rollers:
    """The rollers of a dyno, where torque is made from their speed."""

    roller_inertia: float | None
    roller_radius: float | None


def to_csv(channels: Mapping[str, Array]) -> bytes:
    """Channels (n,) as a table with one column each, every number as it is; nothing for what was not logged."""
    names = sorted(name for name in channels if base_of(name) in CHANNELS)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(names)
    for row in zip(*(channels[name].tolist() for name in names), strict=True):
        writer.writerow(["" if value != value else repr(float(value)) for value in row])
    return out.getvalue().encode()


def from_csv(data: bytes, path: str) -> dict[str, Array]:
    """The inverse. Raises InputError for a table that is none."""
    rows = list(csv.reader(io.StringIO(data.decode("utf-8", "replace"))))
    if not rows or len(set(rows[0])) < len(rows[0]):
        raise InputError(f"{path} holds no table of channels.", "file")
    try:
        values = np.array([[float(cell) if cell else np.nan for cell in row] for row in rows[1:]], dtype=np.float64)
    except ValueError:
        raise InputError(f"{path} holds something that is no number.", "file") from None
    if values.ndim != 2 or values.shape[1] != len(rows[0]):
        raise InputError(f"{path} holds rows of unequal length.", "file")
    return {name: values[:, k] for k, name in enumerate(rows[0])}


def from_raw(session: seen.Session, pull: seen.Pull, files: Mapping[str, bytes]) -> dict[str, Array]:
    """The channels of a pull, read again from its raw files. Raises InputError where they cannot be read that way."""
    reads = [_stretch(file, files) for file in pull.files]
    read = pull_read.joined(reads[0], reads[1])[0] if len(reads) > 1 else reads[0]
    rollers = Rollers(session.dyno.roller_inertia, session.dyno.roller_radius)
    return pull_read.with_torque(read, rollers, pull.smoothing).channels


def _stretch(file: seen.FileRead, files: Mapping[str, bytes]) -> pull_read.Read:
    path = raw_path(file)
    data = files.get(path)
    if data is None:
        raise InputError(f"{path} is not in the bundle.", "file")
    if sha256(data) != file.sha256:
        raise InputError(f"{path} is not the file that the case names.", "file")
    facts, block = log.read_log(data, file.filename)
    found = log.log_of(facts, block)
    part = Part(**file.part) if file.part else Part(0, 0, found.tables[0].rows - 1)
    if not 0 <= part.table < len(found.tables):
        raise InputError(f"{path} has no table {part.table}.", "file")
    (table,) = log.read_parts(data, file.filename, found.tables, [part])
    return pull_read.columns_of(table, mapped.from_json(dict(file.columns)))


def differing(a: Mapping[str, Array], b: Mapping[str, Array]) -> list[str]:
    """Channels of the first that the second does not hold alike."""
    return [
        name
        for name, values in a.items()
        if name not in b
        or values.shape != b[name].shape
        or not np.allclose(values, b[name], rtol=SAME, atol=1e-12, equal_nan=True)
    ]
