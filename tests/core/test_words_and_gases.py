"""Sentences with lengths, the units that geometry brought, the two gases, and remedies that are worth naming."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.air.gases import AIR, BURNED, cooled
from longbreath.core.basis import units
from longbreath.core.basis.constants import GAMMA_AIR
from longbreath.core.basis.sentence import Sentence
from longbreath.core.path import remedy, walk
from longbreath.core.path.sections import round_section


@pytest.mark.parametrize(
    ("system", "words"), [("metric", "an edge of 0.9 mm leaves 3.5 mm"), ("us", "an edge of 0.037 in leaves 0.136 in")]
)
def test_a_sentence_is_said_in_the_viewers_units(system: str, words: str) -> None:
    said = Sentence("an edge of {0} leaves {1}", (0.00093, 0.00346))
    assert said.words(system).replace("\u00a0", " ") == words
    assert Sentence("nothing to measure").words(system) == "nothing to measure"


WRITTEN = [
    ("280 cc/min", "flow", 280e-6 / 60),
    ("280 cm³/min", "flow", 280e-6 / 60),
    ("4.3333 mm²·s", "time_area", 4.3333e-6),
    ("4.3333 mm2s", "time_area", 4.3333e-6),
    ("0.0108 s/m", "specific_time_area", 0.0108),
    ("0.0108 mm2s/cm3", "specific_time_area", 0.0108),
    ("30 W/m2K", "heat_transfer", 30.0),
    ("165 min", "minutes", 9900.0),
    ("2-3/4 h", "minutes", 9900.0),
]


@pytest.mark.parametrize(("text", "kind", "value"), WRITTEN)
def test_what_people_write_for_the_new_kinds(text: str, kind: str, value: float) -> None:
    assert units.parse(text, kind).value == pytest.approx(value, rel=1e-6)


def test_a_bare_number_of_minutes_is_minutes() -> None:
    assert units.parse("165", "minutes").value == pytest.approx(9900.0)
    assert units.show(9900.0, "minutes", "metric", 300.0).replace("\u00a0", " ") == "165 min"


def test_heat_transfer_agrees_with_the_handbook_factor() -> None:
    """Handbook factor, from memory: 1 BTU/(h·ft²·°F) = 5.678 W/(m²·K)."""
    assert units.parse("1 BTU/h·ft²·°F", "heat_transfer").value == pytest.approx(5.678, rel=1e-3)


def test_the_gases_have_the_properties_of_their_round_figures() -> None:
    """First principles: c_p = γ·R/(γ − 1); air at 20 °C and 1013.25 hPa weighs 1.204 kg/m³ and carries sound at 343 m/s."""
    assert AIR.heat_capacity == pytest.approx(1004.7, rel=1e-4)
    assert AIR.density(101325.0, 293.15) == pytest.approx(1.204, rel=1e-3)
    assert AIR.speed_of_sound(293.15) == pytest.approx(343.2, rel=1e-3)
    assert AIR.gamma == GAMMA_AIR
    assert BURNED.heat_capacity == pytest.approx(1168.8, rel=1e-4)
    assert BURNED.speed_of_sound(900.0) == pytest.approx(589.2, rel=1e-3)


@given(st.floats(300, 1300), st.floats(0, 200), st.floats(0, 3), st.floats(0.01, 0.5))
def test_gas_never_cools_below_the_room(hot: float, transfer: float, surface: float, mass: float) -> None:
    after = cooled(hot, 293.15, transfer, surface, mass, BURNED)
    assert 293.15 - 1e-9 <= after <= hot + 1e-9
    assert cooled(hot, 293.15, 0.0, surface, mass, BURNED) == pytest.approx(hot)


def row() -> list[walk.PathElement]:
    pipe = round_section(0.05)
    first = walk.PathElement(1, "pipe", "pipe", "exhaust", 3.0, pipe, pipe)
    muffler = walk.PathElement(2, "muffler", "muffler", "exhaust", 0.5, pipe, pipe, drop=900.0, drop_flow=0.1)
    return [first, muffler]


def test_a_remedy_that_gives_nearly_nothing_is_not_named() -> None:
    burred = [replace(row()[0], burr=0.0004), row()[1]]
    side = walk.flow_through(burred, "exhaust", walk.Duty(0.05))
    assert remedy.best_fix(burred, side, 1) is None
    found = remedy.best_fix(burred, side, 2)
    assert found is not None
    assert found.words == "half its own loss"
    assert remedy.best_fix([], walk.flow_through([], "exhaust", walk.Duty(0.05))) is None


def test_a_remedy_can_be_asked_for_any_element() -> None:
    elements = [replace(row()[0], bend_angle=1.57), row()[1]]
    side = walk.flow_through(elements, "exhaust", walk.Duty(0.08))
    assert side.weakest is not None
    fixes = {key: remedy.best_fix(elements, side, key) for key in (1, 2)}
    assert fixes[1] is not None
    assert fixes[1].words == "a bend of 1.5 D"
    assert fixes[2] is not None
    assert remedy.best_fix(elements, side) == fixes[side.weakest.element.key]
