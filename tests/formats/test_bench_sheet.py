"""Bench sheets in and out: units in headers, workbooks, every reading written, nothing a spreadsheet would run."""

from __future__ import annotations

import csv
import io
import json

import openpyxl
import pytest
from weasyprint.urls import FatalURLFetchingError

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.units import from_unit
from longbreath.formats import bench_sheet
from longbreath.formats.mapping import chosen, guess
from longbreath.formats.pdf import to_pdf
from longbreath.formats.table import read_table
from longbreath.web.assets import DIST

CFM = from_unit(1.0, "flow", "cfm")
US = b"Lift (in),Flow (cfm),Test Pressure (inH2O)\n0.1,72.5,28\n0.2,135.0,27.9\n0.3,,28\n"
METRIC = b"Lift;Percent;Range;dp\nmm;%;;kPa\n2,5;61,2;3;6,97\n5,0;44,0;4;6,97\n"


def rows(data: bytes, name: str = "sheet.csv") -> list[bench_sheet.SheetReading]:
    table = read_table(data, name, minimum=1, one="a bench sheet")
    return bench_sheet.readings_of(table, guess(table, bench_sheet.COLUMNS))


def test_units_in_headers_are_understood_and_rows_without_flow_left_out() -> None:
    found = rows(US)
    assert [r.lift for r in found] == pytest.approx([0.00254, 0.00508])
    assert [r.flow for r in found] == pytest.approx([72.5 * CFM, 135.0 * CFM])
    assert found[1].pressure == pytest.approx(from_unit(27.9, "column", "inH2O"))


def test_a_unit_row_decimal_commas_and_percentages_of_ranges() -> None:
    found = rows(METRIC)
    assert [(r.percent, r.range_label) for r in found] == [(pytest.approx(0.612), "3"), (pytest.approx(0.44), "4")]
    assert found[0].lift == pytest.approx(0.0025)
    assert found[0].pressure == pytest.approx(6970)


def test_tabs_and_workbooks_read_alike() -> None:
    book = openpyxl.Workbook()
    for line in csv.reader(io.StringIO(US.decode())):
        book.active.append([float(c) if c.replace(".", "").isdigit() else c or None for c in line])
    out = io.BytesIO()
    book.save(out)
    assert rows(out.getvalue(), "sheet.xlsx") == rows(US) == rows(US.replace(b",", b"\t"))


@pytest.mark.parametrize(
    ("data", "message"),
    [
        (b"PK\x03\x04 broken", "cannot be opened as a workbook"),
        (b"Lift (mm),Colour\n1,2\n", "column that holds the flow"),
        (b"Lift (mm),Percentage (%)\n1,2\n", "of which range"),
        (b"Lift (mm),Flow (cfm)\n1,x\n", "no rows of numbers|holds no numbers"),
        (b"", "is empty"),
    ],
)
def test_sheets_that_cannot_be_used_say_what_to_do(data: bytes, message: str) -> None:
    with pytest.raises(InputError, match=message):
        rows(data, "sheet")


def test_a_column_left_out_by_hand_stays_out() -> None:
    table = read_table(US, "sheet", minimum=1)
    mapping = chosen(
        table,
        guess(table, bench_sheet.COLUMNS),
        {"pressure-header": "", "lift-header": "Lift", "lift-unit": "mm"},
        "",
        bench_sheet.COLUMNS,
    )
    assert "pressure" not in mapping
    assert bench_sheet.readings_of(table, mapping)[0].lift == pytest.approx(0.0001)


EXPORT = bench_sheet.Export(
    "A session",
    (("test pressure", 6974.489, "column"), ("bench", "=cmd()", "")),
    [
        {
            "trace": "A",
            "part": "=1+1",
            "lift": 0.00254,
            "reading": 7,
            "counts": "no",
            "why_not": "spilt water",
            "percent": 0.45,
            "pressure": 6974.489,
            "flow": 100 * CFM,
            "uncertainty": CFM,
            "source": "hand",
            "by": "Mara",
            "at": "2026-05-06",
        }
    ],
)


def test_what_is_written_as_csv_reads_back_with_its_units() -> None:
    text = bench_sheet.to_csv(EXPORT, "us").decode("utf-8-sig")
    assert "# test pressure (inH₂O): 28" in text
    table = read_table(bench_sheet.to_csv(EXPORT, "us"), "back.csv", minimum=1)
    mapping = guess(table, bench_sheet.COLUMNS)
    assert (mapping["lift"].unit, mapping["pressure"].unit) == ("in", "inH₂O")
    body = list(csv.reader(line for line in text.splitlines() if not line.startswith("#")))
    row = dict(zip(body[0], body[1], strict=True))
    assert row["flow at the test pressure (cfm)"] == "100.0"
    assert row["why not"] == "spilt water"
    assert row["part"] == "'=1+1"


def test_xlsx_and_json_carry_the_same() -> None:
    book = openpyxl.load_workbook(io.BytesIO(bench_sheet.to_xlsx(EXPORT, "metric")))
    head, row = book["readings"].iter_rows(values_only=True)
    assert dict(zip(head, row, strict=True))["lift (mm)"] == pytest.approx(2.54)
    assert book["session"]["B3"].value == "'=cmd()"
    data = json.loads(bench_sheet.to_json(EXPORT))
    assert data["readings"][0]["flow"] == pytest.approx(100 * CFM)
    assert data["fields"]["flow"]["kind"] == "flow"


def test_a_pdf_takes_nothing_from_elsewhere() -> None:
    assert to_pdf("<p>flow</p>", DIST).startswith(b"%PDF")
    with pytest.raises(FatalURLFetchingError, match="Error fetching"):
        to_pdf('<img src="https://example.test/x.png">', DIST)
