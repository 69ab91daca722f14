"""The line protocol of a cell and its stand-ins: round trips, garbage, faults on the line, one engine seen by three."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.basis import units
from longbreath.devices.cell_line import DIALECTS, channel_of, read_cell_line, write_cell_line
from longbreath.devices.kinds import DYNO, KINDS, LOGGER, TOOL, WEATHER
from longbreath.devices.link import DeviceLink
from longbreath.devices.made_torque import WAVE_TORQUE, wave_torque
from longbreath.devices.protocol import LineError
from longbreath.devices.standin import StandIn, command
from longbreath.devices.standin_cell import FAULTS, Instrument, SimulatedCell
from longbreath.devices.standin_tool import SimulatedTool
from longbreath.devices.status import LIVE, LOST, SILENT

WITHIN = 2.0
"""Seconds within which a line that is down is shown."""


@st.composite
def lines(draw: st.DrawFn) -> tuple[str, dict[str, float]]:
    device = draw(st.sampled_from(sorted(DIALECTS)))
    words = draw(st.lists(st.sampled_from(sorted(DIALECTS[device].quantities)), min_size=1, unique=True))
    values = {}
    for word in words:
        spoken = DIALECTS[device].quantities[word]
        values[word] = draw(st.floats(spoken.low + 0.01 * (spoken.high - spoken.low), spoken.high * 0.99))
    return device, values


@given(lines())
def test_what_is_written_is_read(told: tuple[str, dict[str, float]]) -> None:
    device, values = told
    found = read_cell_line(device, write_cell_line(device, values)).values
    assert set(found) == set(values)
    for word, value in values.items():
        spoken = DIALECTS[device].quantities[word]
        last = 10.0**-spoken.decimals * units.unit_of(spoken.kind, spoken.unit).factor  # what the last decimal is worth
        assert abs(found[word] - value) <= last + 1e-9 * abs(value)


@given(st.binary(max_size=700))
def test_garbage_is_never_a_reading(data: bytes) -> None:
    for device in DIALECTS:
        with pytest.raises(LineError):
            read_cell_line(device, data)


@given(lines(), st.data())
def test_one_wrong_sign_is_seen(told: tuple[str, dict[str, float]], data: st.DataObject) -> None:
    """CRC-16 tells every single wrong byte (burst errors up to 16 bits: Peterson and Brown 1961)."""
    device, values = told
    line = bytearray(write_cell_line(device, values)[:-1])
    at = data.draw(st.integers(0, len(line) - 1))
    line[at] ^= data.draw(st.integers(1, 255))
    try:
        found = read_cell_line(device, bytes(line))
    except LineError:
        return
    assert found == read_cell_line(device, write_cell_line(device, values))  # white space alone, or the case of the sum


def test_a_second_one_of_a_quantity_bears_a_number() -> None:
    found = read_cell_line(LOGGER, write_cell_line(LOGGER, {"mixture": 0.88, "mixture2": 0.91}))
    assert found.values == {"mixture": 0.88, "mixture2": 0.91}
    assert [channel_of(word) for word in ("mixture2", "fuelflow", "force", "speed")] == [
        "mixture 2",
        "fuel_flow",
        "",
        "speed",
    ]
    with pytest.raises(LineError):
        write_cell_line(LOGGER, {"speeed": 1.0})


@pytest.fixture
def cell() -> SimulatedCell:
    return SimulatedCell(pace=8.0)


@pytest.fixture
def servers(cell: SimulatedCell) -> Iterator[dict[str, StandIn]]:
    found = {kind: StandIn(Instrument(kind, cell)).start() for kind in (DYNO, LOGGER, WEATHER)}
    yield found
    for server in found.values():
        server.stop()


def until(wanted: Callable[[], bool], seconds: float = 60.0) -> float:
    began = time.monotonic()
    while not wanted():
        assert time.monotonic() < began + seconds, "it never came about"
        time.sleep(0.02)
    return time.monotonic() - began


@pytest.fixture
def links(servers: dict[str, StandIn]) -> Iterator[dict[str, DeviceLink]]:
    found = {kind: DeviceLink(server.url, KINDS[kind]) for kind, server in servers.items()}
    until(lambda: all(link.status().state == LIVE for link in found.values()))
    yield found
    for link in found.values():
        link.close()


def test_three_instruments_see_one_engine(cell: SimulatedCell, links: dict[str, DeviceLink]) -> None:
    assert cell.take("pull") == "pulled"
    assert cell.take("pull") == "it is being pulled"
    until(lambda: not cell.pulling, 12.0)
    dyno, logger = (links[kind].since(0.0) for kind in (DYNO, LOGGER))
    by_time = {round(s.line.values["time"], 3): s.line.values for s in logger}
    shared = [(s.line.values, by_time[t]) for s in dyno if (t := round(s.line.values["time"], 3)) in by_time]
    assert len(shared) > 200
    assert max(abs(a["speed"] - b["speed"]) for a, b in shared) < 0.05
    fast = [a for a, _ in shared if a["speed"] > 200.0 and a["torque"] > 50.0]
    for row in fast[:: len(fast) // 20]:  # power at the roller is power at the engine: first principles
        assert row["force"] * 0.25 * row["roller"] == pytest.approx(row["torque"] * row["speed"], rel=0.002)
        assert row["power"] == pytest.approx(row["torque"] * row["speed"], rel=0.01)
    assert links[WEATHER].status().newest.line.values["pressure"] == pytest.approx(100_600.0)  # type: ignore[union-attr]


def test_torque_is_the_wave_cores(cell: SimulatedCell) -> None:
    speed, torque = np.array(WAVE_TORQUE).T
    assert wave_torque(speed) == pytest.approx(0.88 * torque)
    made = cell.made()
    wanted = wave_torque(made["rpm"])
    assert float(np.mean(made["torque"] / wanted)) == pytest.approx(1.0, abs=0.01)


@pytest.mark.long
def test_the_table_is_what_the_solver_finds() -> None:
    from longbreath.cli.simulate import CASES
    from longbreath.formats import wave_case
    from longbreath.jobs import simulation

    read = wave_case.load_case(CASES / "heron.json")
    known = dict(WAVE_TORQUE)
    done = simulation.run(read.to_engine(), wave_case.speeds("3000,4800"), lambda _: None, workers=1)
    for rpm, item in zip((3000, 4800), done, strict=True):
        assert item.point is not None
        assert item.point.brake_torque == pytest.approx(known[rpm], rel=0.01)


@pytest.mark.parametrize("fault", ["silent", "garbage"])
def test_a_line_that_fails_is_told_within_two_seconds_and_found_again(
    servers: dict[str, StandIn], links: dict[str, DeviceLink], fault: str
) -> None:
    servers[DYNO].device.line = fault
    silent = KINDS[DYNO].silent_after
    assert silent is not None
    assert silent < WITHIN
    until(lambda: links[DYNO].status().state == SILENT)
    words = links[DYNO].status().words
    until(lambda: ("cannot be read" in links[DYNO].status().words) == (fault == "garbage"))
    assert words
    assert links[LOGGER].status().state == LIVE
    servers[DYNO].device.line = "well"
    until(lambda: links[DYNO].status().state == LIVE)


def test_a_flood_neither_stops_the_line_nor_fills_memory(
    servers: dict[str, StandIn], links: dict[str, DeviceLink]
) -> None:
    servers[DYNO].device.line = "flood"
    time.sleep(1.5)
    status = links[DYNO].status()
    assert status.state == LIVE
    assert status.refused > 200
    assert len(links[DYNO]._samples) <= KINDS[DYNO].kept


def test_a_pulled_plug(servers: dict[str, StandIn], links: dict[str, DeviceLink]) -> None:
    command(servers[LOGGER].url, "unplug 2.5")
    until(lambda: links[LOGGER].status().state in (LOST, SILENT))
    until(lambda: links[LOGGER].status().state == LIVE)


@pytest.mark.parametrize(
    "words", ["fault what", "part 1", "setting 9", "engine boat", "seed x", "dance", "", "line loud", "unplug x"]
)
def test_words_it_does_not_know(cell: SimulatedCell, words: str) -> None:
    before = (cell.fault, cell.part, cell.setting, cell.bed)
    assert "not understood" in Instrument(DYNO, cell).take(words)
    assert (cell.fault, cell.part, cell.setting, cell.bed) == before


@pytest.mark.parametrize("fault", FAULTS)
def test_every_fault_makes_a_pull(fault: str) -> None:
    cell = SimulatedCell(bed="turbo", setting=1, seed=11)
    assert cell.take(f"fault {fault}") == f"fault {fault}"
    cell.pulls = 3
    made = cell.made()
    assert all(np.isfinite(values).all() for values in made.values())
    assert made["rpm"].size > 100


def test_a_calliper_sends_what_its_key_is_pressed_for() -> None:
    tool = SimulatedTool()
    with_server = StandIn(tool).start()
    link = DeviceLink(with_server.url, KINDS[TOOL])
    try:
        until(lambda: link.status().state == LIVE)  # it is silent by nature
        command(with_server.url, "press 57.15")
        until(lambda: link.status().newest is not None)
        newest = link.status().newest
        assert newest is not None
        assert newest.line.values == {"length": pytest.approx(0.05715)}
        assert tool.take("press 1e9") == "beyond its range"
        assert tool.take("press nan") == "beyond its range"
        assert "not understood" in tool.take("press soft")
        assert len(tool.pressed) == 1
        assert tool.take("press").endswith("mm")
    finally:
        link.close()
        with_server.stop()
