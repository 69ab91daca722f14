"""The stand-in bench and the link to it: sag, ranges, faults, loss within two seconds, coming back."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator

import pytest

from longbreath.devices.kinds import BENCH, KINDS
from longbreath.devices.link import DeviceLink
from longbreath.devices.standin import StandIn, command
from longbreath.devices.standin_bench import INCH, SimulatedBench
from longbreath.devices.status import LIVE, LOST, SILENT


@pytest.fixture
def stand_in() -> Iterator[StandIn]:
    found = StandIn(SimulatedBench()).start()
    yield found
    found.stop()


@pytest.fixture
def link(stand_in: StandIn) -> Iterator[DeviceLink]:
    found = DeviceLink(stand_in.url, KINDS[BENCH])
    yield found
    found.close()


def wait(link: DeviceLink, wanted: Callable[[DeviceLink], bool], seconds: float = 60.0) -> float:
    """Wait for something to be so; how long it took [s]."""
    start = time.monotonic()
    while time.monotonic() - start < seconds:
        if wanted(link):
            return time.monotonic() - start
        time.sleep(0.02)
    raise AssertionError(f"not within {seconds} s: {link.status()}")


def test_a_freer_part_lets_the_column_drop_and_more_motor_brings_it_back() -> None:
    bench = SimulatedBench(motor=0.85, lift=8.0, part="A")
    stock = bench.resting_column()
    bench.part = "B"
    assert bench.resting_column() < stock
    bench.motor = 0.95
    assert bench.resting_column() > stock


@pytest.mark.parametrize(("part", "lift", "motor"), [("A", 1.0, 0.2), ("B", 10.0, 0.8), ("head", 5.0, 0.5)])
def test_a_key_moves_the_column_by_the_same_share_on_every_part(part: str, lift: float, motor: float) -> None:
    bench = SimulatedBench(motor=motor, lift=lift, part=part)
    before = bench.resting_column()
    bench.take("motor up")
    assert bench.resting_column() / before == pytest.approx(1.01)
    bench.take("motor down")
    assert bench.resting_column() == pytest.approx(before)
    bench.take("motor much down")
    assert bench.resting_column() / before == pytest.approx(0.8)


def test_it_reads_what_its_part_flows() -> None:
    bench = SimulatedBench(motor=0.9, lift=6.0)
    for _ in range(60):
        line = bench.step(0.1)
    shown = (line.share or 0) * 360.0
    assert shown == pytest.approx(bench.flow_at_28() * (line.column / INCH / 28) ** 0.5, rel=0.01)
    bench.shut = True
    assert bench.flow_at_28() == pytest.approx(1.2)
    bench.fault = "blocked"
    assert bench.step(0.1).share == 0.0


@pytest.mark.parametrize("words", ["motor fast", "range 9", "part X", "fault what", "dance", "", "lift"])
def test_nonsense_is_answered_and_changes_nothing(words: str) -> None:
    bench = SimulatedBench()
    before = vars(bench).copy()
    assert bench.take(words)
    assert {k: v for k, v in vars(bench).items() if k[0] != "_"} == {k: v for k, v in before.items() if k[0] != "_"}


def test_values_come_and_commands_go(stand_in: StandIn, link: DeviceLink) -> None:
    wait(link, lambda x: x.status().state == LIVE and x.status().device == "stand-in bench")
    assert link.send("motor 0.8")
    assert link.send("lift 5")
    wait(link, lambda x: x.status().newest.line.column > 15 * INCH)
    assert stand_in.device.lift == 5.0
    command(stand_in.url, "range 2")
    wait(link, lambda x: x.status().newest.line.range_label == "2")
    wait(link, lambda x: len(x.recent(1.0)) >= 6)
    newest = link.status().newest
    assert newest is not None
    wait(link, lambda x: [sample.at > newest.at for sample in x.since(newest.at)][:1] == [True])


def test_a_pulled_plug_is_known_within_two_seconds_and_found_again(stand_in: StandIn, link: DeviceLink) -> None:
    wait(link, lambda x: x.status().state == LIVE)
    silent = KINDS[BENCH].silent_after
    assert silent is not None
    assert silent < 2.0
    stand_in.device.unplugged_until = time.monotonic() + 2.5
    wait(link, lambda x: x.status().state in (LOST, SILENT))
    assert "hand" in link.status().words or "says nothing" in link.status().words or "nothing" in link.status().words
    wait(link, lambda x: x.status().state == LIVE)


@pytest.mark.parametrize("fault", ["silent", "garbage"])
def test_a_line_that_says_nothing_is_silent_within_two_seconds(stand_in: StandIn, link: DeviceLink, fault: str) -> None:
    wait(link, lambda x: x.status().state == LIVE)
    stand_in.device.line = fault
    wait(link, lambda x: x.status().state == SILENT)
    stand_in.device.line = "well"
    wait(link, lambda x: x.status().state == LIVE)


def test_nobody_there_is_lost_and_takes_no_command() -> None:
    link = DeviceLink("socket://127.0.0.1:9", KINDS[BENCH])
    wait(link, lambda x: x.status().state == LOST)
    assert not link.send("motor 1")
    assert "by hand" in link.status().words
    link.close()
    assert link.is_idle
