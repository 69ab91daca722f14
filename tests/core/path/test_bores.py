"""A row of bores and pipes for a pressure: limits of the series law, and what a part-closed section costs."""

from __future__ import annotations

from dataclasses import replace
from math import pi

import fluids
import pytest

from longbreath.core.basis.errors import InputError
from longbreath.core.path import bores, losses
from longbreath.core.path.bores import Bore
from longbreath.core.path.sections import round_section
from longbreath.core.path.walk import Duty, PathElement, flow_through
from longbreath.core.timing import degrees

CHAIN = (Bore("carburettor", 4e-4), Bore("manifold", 5e-4), Bore("port", 9e-4))


def test_shares_add_up_and_enlarging_never_passes_its_ceiling() -> None:
    assert sum(bores.share_figure(CHAIN, n).value for n in range(3)) == pytest.approx(1.0)
    for n in range(3):
        ceiling = bores.ceiling_figure(CHAIN, n).value
        worth = [bores.worth_figure(CHAIN, n, wider).value for wider in (1.05, 1.2, 2.0, 50.0)]
        assert worth == sorted(worth)
        assert worth[-1] < ceiling
        assert worth[-1] == pytest.approx(ceiling, rel=1e-3)


def test_the_bottleneck_is_named_or_said_to_be_none() -> None:
    assert bores.bottleneck(CHAIN) == 0
    assert bores.say_chain(CHAIN).startswith("Carburettor is the bottleneck")
    even = (replace(CHAIN[0]), replace(CHAIN[1], area=4.02e-4), CHAIN[2])
    assert bores.say_chain(even).startswith("No single bottleneck")
    with pytest.raises(InputError, match="two bores"):
        bores.say_chain(CHAIN[:1])
    with pytest.raises(InputError, match="above nought"):
        bores.share_figure((*CHAIN, Bore("shut", 0.0)), 0)


def test_a_pipe_s_drop_is_fluids_own() -> None:
    """fluids 1.3: friction_factor with eD, and dP_from_K."""
    density, mu = 101325 / (290 * 800.0), losses_viscosity(800.0)
    v = 0.12 / (density * pi / 4 * 0.06**2)
    re = density * v * 0.06 / mu
    k = fluids.friction_factor(Re=re, eD=4.5e-5 / 0.06) * 2.5 / 0.06 + 1.4
    expected = fluids.dP_from_K(k, rho=density, V=v)
    assert bores.pipe_drop(0.06, 2.5, 1.4, 0.12, 800.0, 101325.0) == pytest.approx(expected, rel=1e-4)
    with pytest.raises(InputError, match="speed of sound"):
        bores.bore_for_pressure(9.9e5, 3.0, 2.0, 0.15, 773.0, 101325.0)
    with pytest.raises(InputError, match="choked before"):
        bores.pipe_flow(0.03, 0.3, 900.0, 101325.0)
    with pytest.raises(InputError, match="No bore"):
        bores.bore_for_pressure(1e9, 3.0, 2.0, 0.1, 800.0, 101325.0)
    with pytest.raises(InputError, match="no wider inside"):
        bores.step_up_figures(bores.StepUp(0.07, 0.06, 0.05), 0.1, 900.0, 101325.0)


def losses_viscosity(temperature: float) -> float:
    """Sutherland's law for air, constants from memory."""
    return 1.716e-5 * (temperature / 273.15) ** 1.5 * 383.55 / (temperature + 110.4)


def test_a_cone_saves_against_a_step() -> None:
    figures = {f.name: f for f in bores.step_up_figures(bores.StepUp(0.052, 0.0728, 0.085), 0.1, 950.0, 101325.0)}
    assert figures["cone"].value < figures["no_cone"].value
    steep = bores.step_up_figures(bores.StepUp(0.05, 0.08, 0.03), 0.1, 950.0, 101325.0)
    assert any("leaves the wall" in note for f in steep for note in f.working.notes)


def test_a_part_closed_section_costs_and_speeds_up_where_it_is() -> None:
    """Idelchik's thin orifice, from memory: half open costs (1 + 0.707·√0.5 − 0.5)²/0.25 of the duct's dynamic pressure."""
    open_tube = PathElement(1, "flap", "tube", "intake", 0.1, round_section(0.06), round_section(0.06))
    half = replace(open_tube, open_share=0.5)
    duty = Duty(0.08)
    free, shut = (flow_through([e], "intake", duty) for e in (open_tube, half))
    dynamic = shut.pieces[0].parts[0].dynamic
    assert shut.drop - free.drop == pytest.approx((1 + 0.707 * 0.5**0.5 - 0.5) ** 2 / 0.25 * dynamic, rel=1e-6)
    assert shut.stations[0].velocity == pytest.approx(2 * free.stations[0].velocity, rel=0.01)
    with pytest.raises(InputError, match="open share"):
        losses.part_closed(0.0)


DISC = degrees.DiscPort(0.032, 0.026, 0.0005, 7850.0, 0.012, 0.005, 0.003)


@pytest.mark.parametrize(
    ("angle", "words"), [(0.05, "Either"), (0.08, "At the disc, by cutting"), (-0.05, "fill the case port")]
)
def test_degrees_are_won_where_wall_and_balance_allow(angle: float, words: str) -> None:
    found = degrees.won(DISC, angle)
    assert words in degrees.say_won(DISC, angle, found).words("metric")
    by_name = {f.name: f.value for f in found.figures}
    assert by_name["case_volume"] == pytest.approx(0.032 * angle * 0.026 * 0.012)
    assert by_name["disc_mass"] == pytest.approx(0.032 * abs(angle) * 0.026 * 0.0005 * 7850)


@pytest.mark.parametrize("angle", [0.0, 0.8, -0.8])
def test_too_many_degrees_are_another_disc(angle: float) -> None:
    with pytest.raises(InputError, match="another disc"):
        degrees.won(DISC, angle)
