"""The files of a bundle beside raw files and tables: data package, README, the script that needs nothing of ours, workings."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.case.bench import Flow
from longbreath.core.case.case import Case, plain
from longbreath.core.case.seen import Test
from longbreath.core.case.trial import Trial
from longbreath.core.compare.compare import Comparison
from longbreath.core.weigh import rows as trial_rows
from longbreath.proof.case import to_json
from longbreath.proof.pack import sha256
from longbreath.proof.recompute import Again
from longbreath.proof.verify import CASE, PACKAGE, SHEET

HERE = Path(__file__).parent / "templates"
SCRIPT, README = "check.py", "README.md"
TYPES = {"csv": "text/csv", "json": "application/json", "md": "text/markdown", "py": "text/x-python"}
MORE_TYPES = {"svg": "image/svg+xml", "pdf": "application/pdf", "txt": "text/plain"}


def table(header: Sequence[str], rows: Iterable[Sequence[Any]]) -> bytes:
    """Rows as CSV; numbers as they are."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(header)
    for row in rows:
        writer.writerow([repr(x) if isinstance(x, float) else x for x in row])
    return out.getvalue().encode()


def headline_of(sheet: Mapping[str, Any], found: Again, case: Case) -> dict[str, Any]:
    """The figure that the script makes again: of which table, band and unit, and what the claim says of it."""
    if isinstance(case.seen, Test) and found.comparison is not None:
        return _headline_of_pulls(found.comparison, case.seen)
    fact = found.said[0][0] if found.said else None
    shared = {"value_si": fact.value, "half_width_si": fact.half_width, "fact": fact.key} if fact is not None else {}
    if isinstance(case.seen, Flow) and fact is not None:
        return {"of": "airflow", "lift_mm": round(fact.low * 1000, 4), **shared}
    if isinstance(case.seen, Trial) and fact is not None:
        return {"of": case.kind, "place": fact.name, **shared}
    return {"of": case.kind, **shared}


def _headline_of_pulls(comparison: Comparison, test: Test) -> dict[str, Any]:
    design = comparison.design
    band = max(
        (b for b in test.bands if comparison.inside(b.low, b.high).any()),
        key=lambda b: abs(comparison.band_effect(b.low, b.high).value),
    )
    observed = comparison.band_effect(band.low, band.high).value
    return {
        "of": "torque",
        "band": band.name,
        "low_rpm": band.low / RPM,
        "high_rpm": band.high / RPM,
        "drift": design.drift,
        "curved": design.curved,
        "value_si": observed,
        "what": "B − A of mean torque as observed, before anything else was taken off or boost was made equal",
    }


def tables_of(case: Case, found: Again) -> dict[str, bytes]:
    """The tables that the script reads."""
    if isinstance(case.seen, Test) and found.comparison is not None:
        return _tables_of_pulls(found.comparison)
    if isinstance(case.seen, Flow):
        return {"data/readings.csv": _readings(case.seen)}
    if isinstance(case.seen, Trial):
        return {"data/rows.csv": _rows(case.seen)}
    return {}


def _tables_of_pulls(comparison: Comparison) -> dict[str, bytes]:
    runs = sorted(comparison.runs, key=lambda r: (r.day, r.order))
    names = [f"pull {k + 1}" for k in range(len(runs))]
    pulls = table(
        ("pull", "label", "order", "set", "day", "row"),
        [(n, r.label, r.order, r.fitting, r.day, r.row) for n, r in zip(names, runs, strict=True)],
    )
    speeds = np.asarray(comparison.grid) / RPM
    curves = table(
        ("speed_rpm", *names),
        [
            (float(speed), *(float(run.torque[k]) if np.isfinite(run.torque[k]) else "" for run in runs))
            for k, speed in enumerate(speeds)
        ],
    )
    return {"data/pulls.csv": pulls, "data/curves.csv": curves}


def _readings(flow: Flow) -> bytes:
    rows, sides = [], [trace.by_lift() for trace in flow.pair]
    for lift in sorted(set(sides[0]) & set(sides[1])):
        for label, side in zip("AB", sides, strict=True):
            for r in side[lift]:
                rows.append(
                    (
                        label,
                        lift * 1000.0,
                        r.pressure,
                        r.full_scale if r.full_scale is not None else "",
                        r.percent if r.percent is not None else "",
                        r.direct if r.direct is not None else "",
                        r.drop if r.drop is not None else "",
                    )
                )
    return table(
        ("label", "lift_mm", "pressure_Pa", "full_scale_m3_s", "share_of_one", "flow_m3_s", "meter_drop_Pa"), rows
    )


def _rows(trial: Trial) -> bytes:
    names = sorted({name for row in trial.rows for name in row})
    assert trial.kind in trial_rows.BUILDERS
    return table(names, [[row.get(name, "") for name in names] for row in trial.rows])


def workings(found: Again) -> bytes:
    """How each figure was made, in words and numbers (SI)."""
    lines = []
    for figure in (*(f for f, _ in found.stated.figures), *found.stated.minor):
        lines.append(f"{figure.label}: {figure.text('metric')} ({figure.text('us')})")
        lines += [f"  {g.symbol} {g.meaning} = {g.value} {g.kind} {g.origin}".rstrip() for g in figure.working.givens]
        lines += [f"  {s.symbol} = {s.formula} = {s.value!r} {s.kind}" for s in figure.working.steps]
        lines += [f"  {note}" for note in figure.working.notes]
        lines.append(f"  Source: {figure.working.source}")
        lines += [f"  from {row}" for row in figure.working.rows]
        lines.append("")
    return "\n".join(lines).encode()


def readme(sheet: Mapping[str, Any], files: Mapping[str, bytes], address: str) -> bytes:
    """What the bundle is and how to check it, for a reader who has never seen one."""
    words = (HERE / README).read_text()
    listed = "\n".join(f"- `{path}` ({len(data):,} bytes)".replace(",", " ") for path, data in sorted(files.items()))
    told = {
        "title": f"{sheet['product']} {sheet['revision']} on {sheet['vehicle']}",
        "statement": sheet["statement"],
        "address": address or "the address that the house publishes",
        "house": sheet.get("house") or "the house",
        "method": sheet.get("method", ""),
        "files": listed,
        "never": "\n".join(f"- {line}" for line in sheet.get("never", ())),
        "approval": sheet.get("approval", ""),
    }
    for name, text in told.items():
        words = words.replace("{{" + name + "}}", str(text))
    return words.encode()


def script() -> bytes:
    """The check that needs numpy alone."""
    return (HERE / SCRIPT).read_bytes()


def data_package(name: str, sheet: Mapping[str, Any], files: Mapping[str, bytes]) -> bytes:
    """The descriptor of the bundle. Source: Frictionless Data Package, version 1."""
    resources = []
    for path, data in sorted(files.items()):
        kind = path.rpartition(".")[2].lower()
        resource: dict[str, Any] = {
            "name": _slug(path),
            "path": path,
            "bytes": len(data),
            "hash": f"sha256:{sha256(data)}",
            "type": "file",
            "mediatype": {**TYPES, **MORE_TYPES}.get(kind, "application/octet-stream"),
        }
        if path.startswith("data/") and kind == "csv":
            resource |= {
                "profile": "tabular-data-resource",
                "format": "csv",
                "encoding": "utf-8",
                "schema": _schema(data),
            }
        resources.append(resource)
    return to_json(
        {
            "profile": "data-package",
            "name": name,
            "title": f"{sheet['product']} {sheet['revision']} on {sheet['vehicle']}",
            "description": sheet["statement"],
            "resources": resources,
        }
    )


def _slug(path: str) -> str:
    return "".join(c if c.isalnum() or c in "-_." else "-" for c in path.lower()).strip("-.")


def _schema(data: bytes) -> dict[str, Any]:
    """Names and types of a table's columns; an empty cell is a missing one."""
    rows = list(csv.reader(io.StringIO(data.decode())))
    fields = []
    for k, name in enumerate(rows[0]):
        cells = [row[k] for row in rows[1:] if row[k]]
        fields.append({"name": name, "type": "number" if cells and all(_is_number(c) for c in cells) else "string"})
    return {"fields": fields, "missingValues": [""]}


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def whole(
    name: str, sheet: dict[str, Any], case: Case, found: Again, given: Mapping[str, bytes], address: str
) -> dict[str, bytes]:
    """All files of a bundle but hashes and signature. given: raw files, tables of channels, records, sheet as PDF and SVG."""
    files = {
        **given,
        SHEET: to_json({**sheet, "script": headline_of(sheet, found, case)}),
        CASE: to_json(plain(case)),
        "workings.txt": workings(found),
        SCRIPT: script(),
        **tables_of(case, found),
    }
    files[README] = readme(sheet, files, address)
    files[PACKAGE] = data_package(name, sheet, files)
    return files
