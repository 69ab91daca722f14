"""Any log that people bring: read in every habit, split into its pulls, mapped by names, units and figures; or refused in words."""

from __future__ import annotations

import io
import zipfile
from dataclasses import replace

import numpy as np
import openpyxl
import pytest
from asammdf import MDF
from hypothesis import given, settings
from hypothesis import strategies as st

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.pull.channels import POWER, SPEED, THROTTLE, TIME, TORQUE
from longbreath.core.pull.ramps import SWEEP, find_stretches
from longbreath.formats import log
from longbreath.formats.log import LARGE, Log, LogTable, Part, log_of, read_log, read_parts, reading_ahead
from longbreath.formats.mapping import Mapping
from longbreath.formats.numbers import propose
from longbreath.formats.pull_read import columns_of
from longbreath.formats.readers.cells import number
from longbreath.formats.sought import PULL_CHANNELS
from tests.formats.habits import DAY, LOGS, ONE, TURBO
from tests.made.habits import BOOSTED, FULL, LOGGER, METRIC, US, Column, as_measured, as_text, as_workbook


def opened(data: bytes, name: str) -> Log:
    return log_of(*read_log(data, name))


def mapped(table: LogTable) -> tuple[Mapping, dict[str, str]]:
    columns, said = propose(table.table, PULL_CHANNELS)
    return {k: replace(c, scale=14.7) if c.unit == "AFR" else c for k, c in columns.items()}, said


def pulls_of(log: Log) -> list[dict[str, np.ndarray]]:
    """The channels of each pull of a log as it is proposed to be read; tables without torque and power hold none."""
    found = []
    for table in log.tables:
        columns, _ = mapped(table)
        channels = columns_of(table.table, columns).channels
        if TORQUE not in channels and POWER not in channels:
            continue
        load = channels.get(TORQUE, channels.get(POWER))
        for s in find_stretches(channels[SPEED], channels.get(TIME), load, channels.get(THROTTLE)):
            if s.kind == SWEEP:
                found.append({k: v[s.first : s.last + 1] for k, v in channels.items()})
    return found


def test_the_corpus_is_wide() -> None:
    assert len(LOGS) >= 40


@pytest.mark.parametrize("habit", LOGS)
def test_a_log_of_any_habit_gives_its_pulls_in_their_units(habit: str) -> None:
    name, make, count = LOGS[habit]
    found = pulls_of(opened(make(), name))
    assert len(found) == count
    truth = TURBO if "boosted" in habit else ONE
    first = found[0] if count == 1 or "day" not in habit else None
    for channels in found:
        speed = channels[SPEED] / RPM
        assert 6500 < speed.max() < 7200
        torque = channels[TORQUE] if TORQUE in channels else channels[POWER] / channels[SPEED]
        assert 100 < np.median(torque) < 320
    if first is not None and "three" not in habit and "files" not in habit:
        torque = first[TORQUE] if TORQUE in first else first[POWER] / first[SPEED]
        at = np.linspace(2500, 6500, 30)
        expected = np.interp(at, np.sort(truth["rpm"]), truth["torque"][np.argsort(truth["rpm"])])
        assert np.interp(at, first[SPEED] / RPM, torque) == pytest.approx(expected, rel=0.03)
        if "mixture" in first:
            assert np.nanmedian(first["mixture"]) == pytest.approx(np.median(truth["mixture"]), abs=0.01)


def test_units_are_told_by_torque_times_speed_and_said() -> None:
    for habit, units in (
        ("letters alone, no units", ("N·m", "kW")),
        ("letters alone, lb-ft and hp, no units", ("lb-ft", "hp")),
        ("letters alone, PS, no units", ("N·m", "PS")),
    ):
        columns, said = mapped(opened(LOGS[habit][1](), "a.csv").tables[0])
        assert (columns["torque"].unit, columns["power"].unit) == units
        assert units == ("N·m", "kW") or "× speed, if it is" in said["power"]


def test_stated_units_are_never_overruled_by_the_figures() -> None:
    wrong = (US[0], Column("torque", "Torque", "lb-ft", shown="Nm"), US[2])
    columns, _ = mapped(opened(as_text(ONE, wrong), "a.csv").tables[0])
    assert columns["torque"].unit == "N·m"


def test_a_column_that_is_torque_times_speed_is_power_whatever_its_name() -> None:
    odd = (METRIC[0], Column("torque", "Channel 7", shown=""), Column("power", "Channel 9", shown=""))
    columns, said = mapped(opened(as_text(ONE, odd), "a.csv").tables[0])
    assert (columns["torque"].header, columns["power"].header) == ("Channel 7", "Channel 9")
    assert "Channel 9" in said["power"]


def test_absolute_and_gauge_are_told_apart_by_the_figures_and_asked() -> None:
    gauge = {**TURBO, "map": TURBO["map"] - 100.6 - 40.0 * (TURBO["rpm"] < 2000)}
    named = tuple(replace(c, header="Boost") if c.channel == "map" else c for c in BOOSTED)
    columns, _ = mapped(opened(as_text(gauge, named), "a.csv").tables[0])
    assert "boost" in columns
    columns, said = mapped(opened(as_text(TURBO, named), "a.csv").tables[0])
    assert "manifold_pressure" in columns
    assert "that is absolute" in said["manifold_pressure"]


def test_a_mixture_is_told_from_air_to_fuel_by_its_figures() -> None:
    lying = (*METRIC[:3], Column("mixture", "Lambda", "AFR", shown=""))
    columns, said = mapped(opened(as_text(ONE, lying, delimiter=";"), "a.csv").tables[0])
    assert columns["mixture"].unit == "AFR"
    assert "air to fuel" in said["mixture"]


def test_a_logger_without_torque_is_read_for_what_it_has() -> None:
    columns, _ = mapped(opened(as_text(ONE, LOGGER), "logger.csv").tables[0])
    assert {"speed", "time", "mixture", "manifold_pressure", "coolant", "oil", "battery"} <= set(columns)
    assert not {"torque", "power"} & set(columns)


def test_a_second_column_of_a_kind_and_unknown_ones_are_kept() -> None:
    text = as_text(ONE, (*US, Column("exhaust", "Exhaust gas", shown="°C"), Column("charge", "Gizmo", shown="")))
    table = opened(text, "a.csv").tables[0]
    read = columns_of(table.table, mapped(table)[0])
    assert "exhaust" in read.channels
    assert read.channels["as logged: Gizmo"].size == ONE["rpm"].size


def test_measured_files_and_workbooks_agree_with_their_own_libraries() -> None:
    """Round trip: what the libraries that wrote them read back is what stands in the table."""
    data = as_measured([(ONE, FULL[1:5], 1), (ONE, FULL[5:], 5)])
    log = opened(data, "a.mf4")
    assert [t.rows for t in log.tables] == [ONE["rpm"].size]
    with MDF(io.BytesIO(data)) as file:
        signal = file.get("Torque")
        table = log.tables[0].table
        assert table.values[:, table.headers.index("Torque")] == pytest.approx(signal.samples)
        assert table.values[:, 0] == pytest.approx(signal.timestamps)
        assert table.units[table.headers.index("Torque")] == signal.unit
        slow = file.get("Oil temperature")
        oil = table.values[:, table.headers.index("Oil temperature")]
        assert oil[::5] == pytest.approx(slow.samples, abs=1e-9)  # its own points stand, the others lie between them
    data = as_workbook({"pull": ONE}, METRIC)
    sheet = openpyxl.load_workbook(io.BytesIO(data)).worksheets[0]
    rows = [row for row in sheet.iter_rows(min_row=3, values_only=True)]
    assert opened(data, "a.xlsx").tables[0].table.values == pytest.approx(np.array(rows, dtype=float))


def test_large_text_is_thinned_to_look_at_and_read_whole_where_it_is_wanted() -> None:
    n = 90_000
    time = np.arange(n) * 0.01
    made = {
        "time": time,
        "rpm": 3000 + 1500 * np.sin(time / 20),
        "torque": np.linspace(50, 150, n),
        "power": np.linspace(10, 20, n),
    }
    data = as_text(made, (FULL[0], FULL[1], FULL[3], FULL[4]))
    assert len(data) > 2_000_000
    log = opened(data, "big.csv")
    (table,) = log.tables
    assert (table.rows, table.stride, table.table.values.shape[0]) == (n, 5, n // 5)
    part = Part(0, 41_000, 41_199)
    (cut,) = read_parts(data, "big.csv", log.tables, [part])
    assert cut.values.shape == (200, 4)
    assert cut.values[:, 0] == pytest.approx(time[41_000:41_200], abs=1e-3)


def test_large_text_with_words_among_its_numbers_is_read_cell_by_cell() -> None:
    lines = ["Time (s);rpm;Torque (Nm)"] + [
        f"00:{i // 60:02}:{i % 60:02},5;{2000 + i},0;1.2{i % 10}0,5" for i in range(3000)
    ]
    lines[700] = "-- pause --;;"
    lines[701] = "00:11:40,5;n/a;100,0"
    data = ("\n".join(lines) + "\n" + "# end\n" * 200_000).encode()
    (table,) = opened(data, "big.csv").tables
    values = table.table.values
    assert values[0] == pytest.approx([0.5, 2000.0, 1200.5])
    assert np.isnan(values[699, 1]) or np.isnan(values[700, 1])


def test_a_large_log_of_two_bytes_a_sign_is_read_like_a_small_one() -> None:
    """Beyond the size from which a worker reads, little endian with its mark, as loggers on desks write it."""
    rows = "".join(f"{n / 50:.2f}\t{2000 + n % 4000}\t{150 + n % 7}\n" for n in range(150_000))
    data = ("Time (s)\tEngine speed (rpm)\tTorque (Nm)\n" + rows).encode("utf-16-le")
    assert len(data) > LARGE
    (table,) = opened(b"\xff\xfe" + data, "big.tsv").tables
    assert table.table.headers == ("Time", "Engine speed", "Torque")
    assert table.table.values[0] == pytest.approx([0.0, 2000.0, 150.0])


def test_torque_with_a_comma_and_three_digits_is_no_thousand() -> None:
    """Columns apart by semicolons, decimals by commas: 1,234 is one and a quarter, whatever stands in the other columns."""
    rows = "\n".join(f"{n};{2000 + 10 * n};1,{234 + n}" for n in range(40))
    (table,) = opened(("t;n;Md\ns;1/min;Nm\n" + rows).encode(), "a.csv").tables
    assert table.table.decimal == ","
    assert table.table.values[0, 2] == pytest.approx(1.234)


@pytest.mark.parametrize(
    ("cell", "decimal", "value"),
    [
        ("1,234.5", ".", 1234.5),
        ("1,234", ",", 1.234),
        ("1.234", ".", 1.234),
        ("1.234,5", ",", 1234.5),
        ("1’234.5", ".", 1234.5),
        ("1 234,5", ",", 1234.5),
        ("−3,5", ",", -3.5),
        ("12:03.5", ".", 723.5),
        ("01:02:03", ".", 3723.0),
        ("2026-05-14 01:02:03", ".", 3723.0),
        ("12,5", ",", 12.5),
        ("1_000", ".", None),
        ("1e999", ".", None),
        ("x", ".", None),
        ("", ",", None),
    ],
)
def test_cells_in_national_habits(cell: str, decimal: str, value: float | None) -> None:
    found = number(cell.replace(" ", "\u00a0") if "1 2" in cell else cell, decimal)
    assert np.isnan(found) if value is None else found == pytest.approx(value)


def zipped(files: dict[str, bytes], **more: object) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


def marked(data: bytes, local: int, central: int, value: int) -> bytes:
    """An archive of one entry with a two-byte field of its local and central record changed."""
    changed, at = bytearray(data), data.index(b"PK\x01\x02")
    changed[local : local + 2] = changed[at + central : at + central + 2] = value.to_bytes(2, "little")
    return bytes(changed)


def test_a_locked_entry_and_one_that_lies_about_its_size_are_refused_in_words() -> None:
    data = zipped({"a.csv": as_text(ONE, US)})
    with pytest.raises(InputError, match="locked with a password"):
        read_log(marked(data, 6, 8, 1), "all.zip")
    with pytest.raises(InputError, match=r"damaged in its archive|larger than its archive says"):
        read_log(marked(data, 22, 24, 40), "all.zip")


def test_an_archive_tells_what_it_passed_over() -> None:
    inner = zipped({"deep.csv": as_text(ONE, US)})
    log = opened(zipped({"good.csv": as_text(ONE, US), "words.csv": b"hello", "again.zip": inner}), "all.zip")
    assert [t.name for t in log.tables] == ["good.csv"]
    assert any("an archive within an archive" in words for words in log.skipped)
    assert any("one line only" in words for words in log.skipped)


def test_files_read_ahead_are_what_they_are_alone_and_each_is_refused_in_its_turn(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    good, bad = as_text(ONE, METRIC), b"\x00\x01 no log at all"
    alone = read_log(good, "one.csv")
    with reading_ahead([("one.csv", good), ("bad.csv", bad)]):
        monkeypatch.setattr(log, "_read", lambda data, name: pytest.fail("it was read twice"))
        assert read_log(good, "one.csv") == alone
        with pytest.raises(InputError):
            read_log(bad, "bad.csv")


@pytest.mark.parametrize(
    ("data", "name", "message"),
    [
        (zipped({"words.csv": b"hello"}), "a.zip", "one line only"),
        (zipped({}), "a.zip", "holds no table"),
        (zipped({"big.csv": b"0" * 40_000_000}), "a.zip", "32 MB spread out"),
        (b"MDF     4.10    " + b"\x00" * 400, "a.mf4", "cannot be opened as a measurement file"),
        (as_measured([(ONE, FULL[1:], 1)])[:9000], "a.mf4", "measurement file|no group"),
        (b"PK\x03\x04 and then nothing", "a.zip", "cannot be opened"),
        (b"a,b\n1,2\n", "a.csv", "needs at least 10"),
    ],
)
def test_what_is_no_log_is_refused_in_words(data: bytes, name: str, message: str) -> None:
    with pytest.raises(InputError, match=message) as caught:
        read_log(data, name)
    assert caught.value.field == "file"


@settings(max_examples=40, deadline=None)
@given(st.binary(max_size=900), st.sampled_from([b"", b"MDF     4.10    ", b"PK\x03\x04", b"\xff\xfe"]))
def test_any_bytes_are_read_or_refused_in_words(data: bytes, head: bytes) -> None:
    try:
        message = opened(head + data, "x.dat").tables[0].how + "."
    except InputError as error:
        message = error.message
    assert message.endswith(".")


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 10_000), st.integers(1, 60))
def test_a_damaged_measurement_is_read_or_refused_in_words(seed: int, hits: int) -> None:
    rng = np.random.default_rng(seed)
    data = bytearray(MEASURED)
    for at in rng.integers(0, len(data), hits):
        data[at] = rng.integers(0, 256)
    try:
        opened(bytes(data), "x.mf4")
    except InputError as error:
        assert error.message.endswith(".")  # noqa: PT017 — either outcome is right


MEASURED = as_measured([(ONE, FULL[1:6], 4)])


def test_a_day_is_split_where_its_pulls_are() -> None:
    (table,) = opened(as_text(DAY, FULL), "day.csv").tables
    channels = columns_of(table.table, mapped(table)[0]).channels
    found = find_stretches(channels[SPEED], channels[TIME], channels[TORQUE], channels[THROTTLE])
    assert [s.kind for s in found] == ["idle", "sweep"] * 3
