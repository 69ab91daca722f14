"""Raw numbers out, and live lines as a log: read back by the readers and by other libraries."""

from __future__ import annotations

import csv
import io

import numpy as np
import openpyxl
import pytest
from asammdf import MDF

from longbreath.core.basis.constants import RPM
from longbreath.devices.cell_line import read_cell_line
from longbreath.devices.standin_cell import Instrument, SimulatedCell
from longbreath.dossier.pull.live import columns_of
from longbreath.formats import log
from longbreath.formats.live_log import live_log
from longbreath.formats.pulls_out import OutColumn, OutPull, PullsOut, to_csv, to_mdf, to_xlsx

SPEED = np.linspace(2000, 6000, 50) * RPM
OUT = PullsOut(
    "Dyno session of 1 May 2026",
    (("dyno", "Rollers"), ("note", "=1+1\nsecond line")),
    (
        OutPull(
            "1 of A",
            True,
            "fine",
            (
                OutColumn("time", "time", np.arange(50) * 0.04),
                OutColumn("speed", "speed", SPEED),
                OutColumn("torque", "torque", np.full(50, 200.0)),
                OutColumn("coolant", "temperature", np.full(50, 363.15)),
            ),
        ),
        OutPull(
            "2 of B",
            False,
            "ran rich",
            (
                OutColumn("speed", "speed", SPEED),
                OutColumn("torque", "torque", np.where(np.arange(50) == 3, np.nan, 210.0)),
                OutColumn("=own", "", np.arange(50.0)),
            ),
        ),
    ),
)


def test_csv_has_every_channel_and_says_what_counts() -> None:
    text = to_csv(OUT, "metric").decode("utf-8-sig")
    assert text.splitlines()[0] == "# Dyno session of 1 May 2026"
    rows = list(csv.DictReader(line for line in text.splitlines() if not line.startswith("#")))
    assert len(rows) == 100
    assert rows[0]["speed (rpm)"] == "2000.0"
    assert float(rows[0]["coolant (°C)"]) == pytest.approx(90.0)
    assert (rows[50]["pull"], rows[50]["counts"], rows[53]["torque (N·m)"]) == ("2 of B", "no", "")
    assert "'=own" in rows[0]  # never run as a formula
    us = to_csv(OUT, "us").decode("utf-8-sig")
    assert "torque (lb-ft)" in us


def test_a_workbook_has_a_sheet_a_pull() -> None:
    book = openpyxl.load_workbook(io.BytesIO(to_xlsx(OUT, "metric")))
    assert book.sheetnames == ["session", "pull 1 of A", "pull 2 of B"]
    sheet = book["pull 1 of A"]
    assert [c.value for c in sheet[1]] == ["time (s)", "speed (rpm)", "torque (N·m)", "coolant (°C)"]
    assert sheet.max_row == 51
    assert [c.value for c in book["session"]["B"]][2] == "'=1+1\nsecond line"
    assert book["pull 2 of B"]["B5"].value in ("", None)


def test_a_measurement_file_has_a_group_a_pull(tmp_path) -> None:  # type: ignore[no-untyped-def]
    path = tmp_path / "x.mf4"
    path.write_bytes(to_mdf(OUT, "metric"))
    with MDF(path) as file:
        assert len(file.groups) == 2
        first = file.get("torque", group=0)
        assert first.samples == pytest.approx(np.full(50, 200.0))
        assert first.unit == "N·m"
        assert first.timestamps == pytest.approx(np.arange(50) * 0.04)
        assert file.get("torque", group=1).timestamps == pytest.approx(np.arange(50.0))
    facts, _ = log.read_log(path.read_bytes(), "x.mf4")  # our own reader takes it too
    assert "torque" in " ".join(h for t in facts["tables"] for h in t["headers"]).lower()


def test_live_lines_are_a_log_like_any_other() -> None:
    """What is said to be in the file without reading it is what the reader finds in it."""
    cell = SimulatedCell(pace=1.0)
    cell._began = 0.0
    for kind in ("dyno", "logger"):
        device = Instrument(kind, cell)
        rows = [dict(read_cell_line(kind, device._told(at, frame)).values) for at, frame in cell.frames(4.0, 0.0)]
        rows[7].pop("speed")  # a line that did not name it
        written = live_log(columns_of(kind, rows), rows)
        facts, block = log.read_log(written.data, "live.csv")
        assert facts == written.facts
        told, found = (
            log.log_of(*pair).tables[0].table.values for pair in ((written.facts, written.block), (facts, block))
        )
        assert np.array_equal(told, found, equal_nan=True)
        assert np.isnan(found[7]).sum() == 1
