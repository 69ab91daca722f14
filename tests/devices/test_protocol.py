"""The line protocol: what is written is read back; garbage, half lines, wrong units and floods are refused, never raised."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from longbreath.devices.link import KEPT, BenchLink
from longbreath.devices.protocol import Line, LineError, check_sum, read_line, write_line

lines = st.builds(
    Line,
    column=st.floats(0, 20000),
    range_label=st.sampled_from(["1", "2", "4a"]),
    share=st.floats(0, 1.19),
    inlet=st.none() | st.floats(250, 330),
    meter=st.none() | st.floats(250, 330),
)


def closed(body: str) -> bytes:
    """A body with its right sum."""
    return body.encode() + f"; sum {check_sum(body.encode()):02x}\n".encode()


@settings(deadline=None)
@given(lines)
def test_what_is_written_is_read_back(line: Line) -> None:
    found = read_line(write_line(line))
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
        read_line(data)


@given(lines, st.data())
def test_half_a_line_is_refused(line: Line, data: st.DataObject) -> None:
    whole = write_line(line)
    cut = data.draw(st.integers(0, len(whole) - 4))
    with pytest.raises(LineError, match=r"sum|half|bench"):
        read_line(whole[:cut])


@given(lines, st.data())
def test_a_changed_byte_is_refused(line: Line, data: st.DataObject) -> None:
    whole = bytearray(write_line(line))
    place = data.draw(st.integers(0, len(whole) - 9))
    whole[place] ^= data.draw(st.integers(1, 127))
    with pytest.raises(LineError, match=r"."):
        read_line(bytes(whole))


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
        ("scale; column 28 inH2O; flow 3 cfm", "not a bench"),
        ("bench; column many inH2O; flow 3 cfm", "does not begin with a number"),
    ],
)
def test_a_whole_line_that_is_no_reading_says_why(body: str, message: str) -> None:
    with pytest.raises(LineError, match=message):
        read_line(closed(body))


def test_units_are_understood_not_assumed() -> None:
    found = read_line(closed("bench; column 700 mmH2O; range 2; drop 1.5 kPa; meter 90 F"))
    assert (found.column, found.drop) == (pytest.approx(6864.7, rel=1e-4), 1500.0)
    assert found.meter == pytest.approx(305.37, abs=0.01)


def test_a_flood_is_kept_to_the_newest_and_the_refused_are_counted() -> None:
    link = BenchLink("socket://127.0.0.1:9")  # nobody answers there
    for number in range(3 * KEPT):
        link._take(write_line(Line(100.0 + number, "1", 0.5)).rstrip())
        link._take(b"\xff" * 50)
    status = link.status()
    assert len(link._samples) == KEPT
    assert status.newest is not None
    assert status.newest.line.column == pytest.approx(100.0 + 3 * KEPT - 1, abs=0.13)
    assert status.refused == 3 * KEPT
    link.close()
