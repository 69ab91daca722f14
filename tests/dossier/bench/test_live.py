"""Live lines reduced for the desk: each kind of meter, ranges that are not on the card, what the page is told."""

from __future__ import annotations

import time

import pytest

from longbreath.core.air.moist import Weather
from longbreath.core.basis.units import from_unit
from longbreath.core.bench import reduction, settle
from longbreath.core.bench.live import LiveDesk, Scale
from longbreath.core.bench.meter import MeterAir, Orifice, orifice_flow
from longbreath.devices.bench_line import BenchLine
from longbreath.devices.status import LIVE, LOST, SILENT, Sample, Status
from longbreath.dossier.bench import live
from longbreath.dossier.instruments import Look
from longbreath.steps.measure.bench import stream

CFM = from_unit(1.0, "flow", "cfm")
DP = from_unit(28.0, "column", "inH2O")
ROOM = MeterAir(Weather(293.15, 101325.0, 0.4), 293.15, 101325.0)
PLATE = Orifice(0.05, 0.1)


def desk(**change: object) -> LiveDesk:
    values = {
        "test_pressure": DP,
        "leak": reduction.MeterReading(DP, direct=1.2 * CFM),
        "room": ROOM,
        "direction": "intake",
        "rule": "none",
        "rules": settle.SettleRules(),
        "scales": {"4": Scale(7, 360 * CFM, None), "50": Scale(8, 270 * CFM, PLATE)},
    }
    return LiveDesk(**{**values, **change})  # type: ignore[arg-type]


def samples(line: BenchLine) -> list[Sample]:
    now = time.monotonic()
    return [Sample(now - 0.1 * n, line) for n in range(14, -1, -1)]


def test_a_percentage_a_flow_and_a_drop_each_become_flow() -> None:
    here = desk()
    assert here.flow(BenchLine(DP, "4", share=0.5)) == pytest.approx(180 * CFM)
    assert here.flow(BenchLine(DP, flow=99 * CFM)) == pytest.approx(99 * CFM)
    line = BenchLine(DP, "50", drop=3000.0, meter=303.0)
    air = MeterAir(ROOM.inlet, 303.0, 101325.0 - DP)
    assert here.flow(line) == pytest.approx(orifice_flow(PLATE, 3000.0, air))
    assert here.flow(BenchLine(DP, "9", share=0.5)) == 0.0  # no such range on the card
    assert here.flow(BenchLine(DP, "4", drop=3000.0)) == 0.0  # no plate in that range


def test_flow_at_the_test_pressure_has_leak_off_is_referred_and_carried_to_the_inlet() -> None:
    line = BenchLine(DP * 0.81, "4", share=0.5, inlet=290.0, meter=300.0)
    plain = desk(leak=None).at_test_pressure(line)
    assert plain == pytest.approx(180 * CFM / 0.9)
    warm = desk(leak=None, rule="temperature").at_test_pressure(line)
    assert warm == pytest.approx(180 * CFM / 0.9 * (290 / 300) ** 0.5)
    assert desk().at_test_pressure(line) == pytest.approx(180 * CFM / 0.9 - 1.2 * CFM)
    assert desk().at_test_pressure(BenchLine(0.0, "4", share=0.0)) is None


def test_on_the_exhaust_the_meter_breathes_the_room() -> None:
    assert desk(direction="exhaust").air(BenchLine(DP, "4", 0.5)).pressure == 101325.0
    assert desk().air(BenchLine(DP, "4", 0.5)).pressure == pytest.approx(101325.0 - DP)


@pytest.mark.parametrize(
    ("line", "kept", "none"),
    [
        (BenchLine(DP, "4", share=0.5), {"percent": 0.5, "range_id": 7}, ("direct_flow", "meter_drop")),
        (BenchLine(DP, flow=99 * CFM), {"direct_flow": 99 * CFM, "range_id": None}, ("percent", "meter_drop")),
        (
            BenchLine(DP, "50", drop=3000.0, inlet=291.0),
            {"meter_drop": 3000.0, "range_id": 8, "inlet_temperature": 291.0},
            ("percent",),
        ),
    ],
)
def test_a_reading_keeps_what_the_meter_showed(
    line: BenchLine, kept: dict[str, float | None], none: tuple[str, ...]
) -> None:
    here, window = desk(), samples(line)
    found = live.reading_of(here, window, here.settled(window, time.monotonic()), 0.002, "")
    for name, value in kept.items():
        assert getattr(found, name) == (pytest.approx(value) if value is not None else None)
    assert [getattr(found, name) for name in none] == [None] * len(none)
    assert (found.source, found.pressure) == ("bench", pytest.approx(DP))


def test_a_warm_or_high_reading_is_flagged_with_every_trouble() -> None:
    here, window = desk(), samples(BenchLine(0.9 * DP, "4", share=0.97))
    settled = here.settled(window, time.monotonic())
    assert live.reading_of(here, window, settled, 0.002, "").flags == (settle.OFF_PRESSURE, settle.NEAR_END)


@pytest.mark.parametrize("state", [LOST, SILENT])
def test_without_a_live_line_only_the_state_and_what_to_do_are_told(state: str) -> None:
    status = Status(state, "Is it plugged in?", None, 3, "", ())
    assert stream.shown(desk(), "us", Look(status, [], time.monotonic())) == {
        "state": state,
        "words": "Is it plugged in?",
        "refused": 3,
        "stand_in": False,
    }


@pytest.mark.parametrize(("system", "column", "flow"), [("us", "28.0", "178.8"), ("metric", "6.97", "84.4")])
def test_the_page_is_told_in_the_viewers_units(system: str, column: str, flow: str) -> None:
    window = samples(BenchLine(DP, "4", share=0.5, inlet=293.15))
    found = stream.shown(desk(), system, Look(Status(LIVE, "", window[-1], 0, ""), window, time.monotonic()))
    assert (found["column"], found["flow"], found["good"]) == (column, flow, True)
    assert 0.7 < found["level"] < 0.9
    assert found["range"] == "range 4"
