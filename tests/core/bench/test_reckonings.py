"""The quick reckoner's entries of the bench: their examples against the reference sheet, and what each refuses."""

from __future__ import annotations

import pytest

from longbreath.core.basis.register import Answer, reckoning_named
from longbreath.core.basis.units import to_unit

KINDS = {"flow": "cfm", "velocity": "m/s", "column": "inH2O", "power": "hp", "hours": "h"}


def answer(name: str, **change: str) -> Answer:
    found = reckoning_named(name)
    return found.answer({**{f.name: f.example for f in found.fields}, **change})


def value(found: Answer, place: int, unit: str = "") -> float:
    figure = found.figures[place]
    return to_unit(figure.value, figure.kind, unit) if unit else figure.value


@pytest.mark.parametrize(
    ("name", "change", "place", "unit", "expected", "source"),
    [
        (
            "orifice_flow",
            {"meter_temperature": "20 C", "suction": "0 inH2O"},
            0,
            "cfm",
            275.405,
            "fluids 1.3.1, C.iso.cfm",
        ),
        ("meter_temperature", {"rule": "state"}, 0, "cfm", 189.784, "first principles, C.temp.ex"),
        ("meter_temperature", {"rule": "volume"}, 0, "cfm", 180.090, "first principles, C.temp.vol"),
        ("discharge_coefficient", {}, 0, "", 0.561972, "first principles, C.Cd.curt.isen"),
        ("ideal_flow", {}, 0, "ft/s", 357.610, "first principles, C.v28.isen.fps"),
        ("ideal_flow", {}, 1, "cfm", 141.604, "first principles, C.cfm_in2.isen"),
        ("stack", {}, 1, "cfm", 420.0, "first principles, C.series.back"),
        ("back_pressure", {"flow": "100 cfm", "wanted": "200 cfm"}, 0, "inH2O", 112.0, "first principles, Δp ∝ Q²"),
        ("pitot_velocity", {}, 0, "m/s", 64.1587, "first principles and fluids, C.pitot.2500.comp"),
        ("porting_hours", {}, 2, "h", 11 / 3, "first principles: 11 cfm at 3 cfm an hour"),
        ("power_potential", {}, 0, "hp", 514.0, "common practice, no source: 0.257 × 250 × 8"),
        ("exhaust_to_intake", {}, 0, "", 165 / 230, "definition"),
        ("percentage_gain", {}, 0, "cfm", 10.5, "common practice: 3.5 % of 300 cfm"),
    ],
)
def test_against_the_reference_sheet(
    name: str, change: dict[str, str], place: int, unit: str, expected: float, source: str
) -> None:
    found = answer(name, **change)
    assert found.errors == {}
    assert value(found, place, unit) == pytest.approx(expected, rel=6e-4 if "fluids 1.3" in source else 2e-5), source


@pytest.mark.parametrize(
    ("name", "change", "field", "words"),
    [
        ("orifice_flow", {"plate_diameter": "95 mm"}, "plate_diameter", "0.10 to 0.75"),
        ("orifice_flow", {"meter_drop": "120 inH2O"}, "meter_drop", "larger plate"),
        ("orifice_flow", {"taps": "pinched"}, "taps", "is not one of"),
        ("discharge_coefficient", {"throat_diameter": "60 mm"}, "throat_diameter", "follow one another"),
        ("discharge_coefficient", {"lift": "0 mm"}, "lift", "cannot be less than"),
        ("stack", {"stack": "300 cfm"}, "stack", "inside the noise"),
        ("stack", {"target": "400 cfm"}, "target", "flows no more"),
        ("pitot_velocity", {"velocity_pressure": "-3 Pa"}, "velocity_pressure", "cannot be less than"),
        ("porting_hours", {"target_flow": "200 cfm"}, "target_flow", "more than the flow to begin with"),
        ("power_potential", {"cylinders": "60"}, "cylinders", "cannot be more than"),
        ("percentage_gain", {"pressure_b": "23 inH2O"}, "pressure_b", "different pressures"),
        ("ideal_flow", {"test_pressure": "900 psi"}, "test_pressure", "between nought and the room"),
    ],
)
def test_what_cannot_be_is_said_beside_its_field(name: str, change: dict[str, str], field: str, words: str) -> None:
    found = answer(name, **change)
    assert found.figures == ()
    assert words in found.errors[field]


def test_every_entry_carries_its_caveat_where_the_trade_needs_one() -> None:
    for name, words in (
        ("power_potential", "backs no claim"),
        ("exhaust_to_intake", "Opinions differ"),
        ("percentage_gain", "not multiplied"),
        ("stack", "Measure the stack"),
        ("back_pressure", "Cold and steady"),
    ):
        notes = " ".join(note for figure in answer(name).figures for note in figure.working.notes)
        assert words in notes, name
