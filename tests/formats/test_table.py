"""Reading files as loggers write them, and refusing what is none."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.basis.errors import InputError
from longbreath.formats import mapping as formats_mapping
from longbreath.formats.numbers import propose
from longbreath.formats.readers.table import split_unit
from longbreath.formats.sought import PULL_CHANNELS
from longbreath.formats.table import Table, read_table
from tests.made import standin

LOGGED = standin.pull(3, None, 1)


def read_with(table: Table, mapping: formats_mapping.Mapping | None = None) -> dict[str, np.ndarray]:
    """The channels of a table, by a mapping or by what the names and figures propose; the meter is set to petrol."""
    columns = mapping if mapping is not None else propose(table, PULL_CHANNELS)[0]
    return formats_mapping.apply_columns(
        table, {k: replace(c, scale=14.7) if c.unit == "AFR" else c for k, c in columns.items()}, PULL_CHANNELS
    )


def rows(delimiter: str, decimal: str, header: str, number: int = 14) -> bytes:
    lines = [header]
    for i in range(number):
        cells = (f"{2000 + 100 * i}", f"{150.5 + i:.2f}", f"{31.5 + i:.3f}")
        lines.append(delimiter.join(cell.replace(".", decimal) for cell in cells))
    return "\n".join(lines).encode()


@pytest.mark.parametrize(
    ("delimiter", "decimal", "header"),
    [
        (",", ".", "RPM,Torque (Nm),Power (kW)"),
        (";", ",", "Drehzahl;Drehmoment [Nm];Leistung [kW]"),
        ("\t", ".", "Engine speed, rpm\tTrq_Nm\tPower kW"),
        (";", ".", "n (1/min);M (Nm);P (kW)"),
        ("|", ".", "speed|torque|power"),
    ],
)
def test_delimiters_decimal_marks_and_headers(delimiter: str, decimal: str, header: str) -> None:
    table = read_table(rows(delimiter, decimal, header))
    assert (table.delimiter, table.values.shape) == (delimiter, (14, 3))
    assert table.values[1] == pytest.approx([2100.0, 151.5, 32.5])
    channels = read_with(table)
    assert channels["speed"][0] == pytest.approx(2000 * np.pi / 30)
    assert channels["torque"][0] == pytest.approx(150.5)
    assert channels["power"][0] == pytest.approx(31500.0)


def test_both_loggers_of_the_shop_give_the_same_pull() -> None:
    found = []
    for data in (standin.as_us_csv(LOGGED, "pull 1"), standin.as_metric_csv(LOGGED)):
        table = read_table(data)
        found.append(read_with(table))
    for name in ("speed", "torque", "power", "mixture"):
        assert found[0][name] == pytest.approx(found[1][name], rel=2e-3)
    assert read_table(standin.as_us_csv(LOGGED, "x")).remarks == ("Windlass Airway Works, x",)


@pytest.mark.parametrize(
    ("data", "message"),
    [
        (b"", "is empty"),
        (b"   \n \n", "is empty"),
        (b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR" * 30, "not a text file"),
        (bytes(range(1, 20)) * 50, "not a text file"),
        (b"just one line", "one line only"),
        (b"a,b\n1,2\n3,4\n5,6\n", "3 rows of numbers"),
        (b"rpm torque\n" + b"2000 150\n" * 20, "no columns that can be told apart"),
        (b"a,b,c\n" + b"x,y,z\n" * 20, "no rows of numbers"),
        (rows(",", ".", "RPM,T,P").split(b"\n", 1)[1], "no header row"),
    ],
)
def test_what_is_no_pull_is_refused_with_advice(data: bytes, message: str) -> None:
    with pytest.raises(InputError, match=message) as caught:
        read_table(data, "pull.csv")
    assert caught.value.field == "file"


def test_cells_that_are_no_numbers_become_nan_and_rows_stay() -> None:
    data = rows(",", ".", "RPM,Torque (Nm),Power (kW)").replace(b"152.50", b"NaN").replace(b"153.50", b"n/a")
    table = read_table(data)
    assert np.isnan(table.values[:, 1]).sum() == 2
    assert table.values.shape[0] == 14


def test_the_fingerprint_is_of_the_source_not_of_the_figures() -> None:
    one, other = (read_table(standin.as_us_csv(standin.pull(n, None, n), f"pull {n}")) for n in (1, 2))
    assert one.fingerprint == other.fingerprint
    assert one.fingerprint != read_table(standin.as_metric_csv(LOGGED)).fingerprint


@pytest.mark.parametrize(
    ("header", "expected"),
    [
        ("Torque (lb-ft)", ("Torque", "lb-ft")),
        ("Power [kW]", ("Power", "kW")),
        ("torque_nm", ("torque", "nm")),
        ("Speed, rpm", ("Speed", "rpm")),
        ("hp", ("hp", "hp")),
        ("Air box", ("Air box", "")),
        ("Comment (none)", ("Comment (none)", "")),
    ],
)
def test_units_in_headers(header: str, expected: tuple[str, str]) -> None:
    assert split_unit(header) == expected


def test_a_mapping_without_speed_or_with_a_wrong_column_is_refused() -> None:
    table = read_table(rows(",", ".", "RPM,Torque (Nm),Power (kW)"))
    with pytest.raises(InputError, match="Choose the column that holds the engine speed"):
        read_with(table, {"torque": formats_mapping.MappedColumn("Torque", "N·m")})
    with pytest.raises(InputError, match="no column “Drag”"):
        read_with(
            table,
            {
                "speed": formats_mapping.MappedColumn("RPM", "rpm"),
                "torque": formats_mapping.MappedColumn("Drag", "N·m"),
            },
        )


@given(st.binary(max_size=600))
def test_any_bytes_are_read_or_refused_in_words(data: bytes) -> None:
    try:
        read_table(data)
    except InputError as error:
        message = error.message
    else:
        message = "."
    assert message.endswith(".")


@given(
    st.lists(st.tuples(st.floats(1000, 9000), st.floats(10, 900)), min_size=10, max_size=40),
    st.sampled_from([(",", "."), (";", ","), ("\t", "."), (";", ".")]),
)
def test_written_figures_come_back(points: list[tuple[float, float]], style: tuple[str, str]) -> None:
    delimiter, decimal = style
    lines = [f"Speed (rpm){delimiter}Torque (Nm)"]
    lines += [f"{a:.2f}{delimiter}{b:.2f}".replace(".", decimal) for a, b in points]
    table = read_table("\r\n".join(lines).encode())
    assert table.values == pytest.approx(np.round(np.array(points), 2), abs=0.006)
