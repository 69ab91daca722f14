"""The line protocol: what is written is read back; garbage, half lines, wrong units and floods are refused, never raised."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from longbreath.devices.bench_line import BenchLine, read_bench_line, write_bench_line
from longbreath.devices.kinds import BENCH, KINDS
from longbreath.devices.link import DeviceLink
from longbreath.devices.protocol import DeviceLine, Dialect, LineError, Spoken, check_sum, read_line, write_line

lines = st.builds(
    BenchLine,
    column=st.floats(0, 20000),
    range_label=st.sampled_from(["1", "2", "4a"]),
    share=st.floats(0, 1.19),
    inlet=st.none() | st.floats(250, 330),
    meter=st.none() | st.floats(250, 330),
)


def closed(body: str) -> bytes:
    """A body with its right sum."""
    return body.encode() + f"; sum {check_sum(body.encode()):04x}\n".encode()


@settings(deadline=None)
@given(lines)
def test_what_is_written_is_read_back(line: BenchLine) -> None:
    found = read_bench_line(write_bench_line(line))
    assert found.column == pytest.approx(line.column, abs=0.13)
    assert found.share == pytest.approx(line.share, abs=6e-5)
    assert (found.range_label, found.inlet is None, found.meter is None) == (
        line.range_label,
        line.inlet is None,
        line.meter is None,
    )


@given(st.binary(max_size=300))
def test_garbage_is_refused_with_a_sentence(data: bytes) -> None:
    with pytest.raises(LineError, match=r"."):
        read_bench_line(data)


@given(lines, st.data())
def test_half_a_line_is_refused(line: BenchLine, data: st.DataObject) -> None:
    whole = write_bench_line(line)
    cut = data.draw(st.integers(0, len(whole) - 4))
    with pytest.raises(LineError, match=r"sum|half|bench"):
        read_bench_line(whole[:cut])


@given(lines, st.data())
def test_a_changed_byte_is_refused(line: BenchLine, data: st.DataObject) -> None:
    whole = bytearray(write_bench_line(line))
    place = data.draw(st.integers(0, len(whole) - 11))
    whole[place] ^= data.draw(st.integers(1, 127))
    with pytest.raises(LineError, match=r"."):
        read_bench_line(bytes(whole))


@pytest.mark.parametrize(
    ("body", "message"),
    [
        ("bench; column 28 cfm; range 4; share 50 %", "is not a unit"),
        ("bench; column 28; range 4; share 50 %", "column has no unit"),
        ("bench; column 28 inH2O; range 4; share 190 %", "cannot be"),
        ("bench; column 900 psi; range 4; share 50 %", "cannot be"),
        ("bench; column 28 inH2O; share 50 %", "names no range"),
        ("bench; column 28 inH2O; range 4", "one of share, flow or drop"),
        ("bench; column 28 inH2O; range 4; share 50 %; flow 3 cfm", "one of share, flow or drop"),
        ("bench; range 4; share 50 %", "names no column"),
        ("bench; column 28 inH2O; column 28 inH2O; flow 3 cfm", "does not know"),
        ("bench; column 28 inH2O; flow 3 cfm; colour 4 red", "does not know"),
        ("scale; column 28 inH2O; flow 3 cfm", "not a reading of a bench"),
        ("bench; column many inH2O; flow 3 cfm", "does not begin with a number"),
    ],
)
def test_a_whole_line_that_is_no_reading_says_why(body: str, message: str) -> None:
    with pytest.raises(LineError, match=message):
        read_bench_line(closed(body))


def test_units_are_understood_not_assumed() -> None:
    found = read_bench_line(closed("bench; column 700 mmH2O; range 2; drop 1.5 kPa; meter 90 F"))
    assert (found.column, found.drop) == (pytest.approx(6864.7, rel=1e-4), 1500.0)
    assert found.meter == pytest.approx(305.37, abs=0.01)


def test_a_flood_is_kept_to_the_newest_and_the_refused_are_counted() -> None:
    link = DeviceLink("socket://127.0.0.1:9", KINDS[BENCH])  # nobody answers there
    for number in range(3 * KINDS[BENCH].kept):
        link._take(write_bench_line(BenchLine(100.0 + number, "1", 0.5)).rstrip())
        link._take(b"\xff" * 50)
    status = link.status()
    assert len(link._samples) == KINDS[BENCH].kept
    assert status.newest is not None
    assert status.newest.line.column == pytest.approx(100.0 + 3 * KINDS[BENCH].kept - 1, abs=0.13)
    assert status.refused == 3 * KINDS[BENCH].kept
    link.close()


def test_another_kind_of_device_speaks_by_its_own_dialect() -> None:
    weather = Dialect("weather", {"air": Spoken("temperature", "°C", 223, 333, 2)}, words=("station",))
    sent = write_line(DeviceLine({"air": 294.15}, {"station": "yard"}), weather)
    assert sent.startswith(b"weather; station yard; air 21.00")
    found = read_line(sent, weather)
    assert (found.values["air"], found.words) == (pytest.approx(294.15), {"station": "yard"})
    with pytest.raises(LineError, match="not a reading of a bench"):
        read_bench_line(sent)


def test_the_sum_is_the_public_crc() -> None:
    """CRC-16/CCITT begun with FFFF over "123456789" is 29B1: the check value of its catalogue, from memory."""
    assert check_sum(b"123456789") == 0x29B1
