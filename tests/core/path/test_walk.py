"""The path: losses along it, gas that leaves at the room's pressure, heat, marks, remedies, and what they are worth."""

from __future__ import annotations

from dataclasses import replace
from math import exp, pi, radians

import fluids
import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.air.gases import AIR, BURNED
from longbreath.core.basis.errors import InputError
from longbreath.core.path import figures, losses, remedy, sections, walk

ROUND = sections.round_section
DUTY = walk.Duty(0.10)


def tube(key: int, diameter: float, length: float = 0.3, side: str = "intake", **more: object) -> walk.PathElement:
    section = ROUND(diameter)
    values = {"kind": "tube", "exit": section, **more}
    return walk.PathElement(
        key, f"tube {key}", str(values.pop("kind")), side, length, section, values.pop("exit"), **values
    )  # type: ignore[arg-type]


def box(key: int, volume: float = 0.005, side: str = "intake", kind: str = "plenum") -> walk.PathElement:
    return walk.PathElement(key, f"box {key}", kind, side, 0.3, ROUND(0.06), ROUND(0.06), volume=volume)


def test_a_straight_pipe_costs_mouth_and_friction() -> None:
    element = tube(1, 0.06, 1.0)
    side = walk.flow_through([element], "intake", DUTY)
    rho = AIR.density(101325.0, 293.15)
    dynamic = 0.5 * rho * (0.10 / (rho * element.entry.area)) ** 2
    reynolds = 0.10 * 0.06 / (element.entry.area * AIR.viscosity(293.15))
    k = losses.mouth(0.06, 0.0).k + losses.friction(1.0, element.entry, reynolds, walk.DRAWN).k
    assert side.drop == pytest.approx(k * dynamic, rel=1e-9)
    assert side.stations[-1].static == pytest.approx(101325 - side.drop - dynamic, rel=1e-3)
    assert side.share(side.pieces[0]) == 1.0


def test_losses_grow_with_the_square_of_the_flow() -> None:
    elements = [box(1), tube(2, 0.05)]
    half, full = (walk.flow_through(elements, "intake", walk.Duty(m)).drop for m in (0.02, 0.04))
    assert full / half == pytest.approx(4.0, rel=0.03)


def test_exhaust_gas_leaves_at_the_pressure_of_the_room() -> None:
    elements = [tube(1, 0.038, 0.5, "exhaust", branches=4), tube(2, 0.05, 2.0, "exhaust")]
    side = walk.flow_through(elements, "exhaust", DUTY)
    assert side.stations[-1].total == pytest.approx(101325.0, abs=1.0)
    assert side.stations[0].total > 101325.0 + 0.8 * side.drop
    assert side.pieces[-1].parts[-1].loss.what == "out into the open"


def test_heat_is_lost_along_a_long_exhaust() -> None:
    pipe = tube(1, 0.05, 3.0, "exhaust")
    side = walk.flow_through([pipe], "exhaust", DUTY)
    mass = 0.10 * (1 + 1 / 12.8)
    ntu = 30.0 * pi * 0.05 * 3.0 / (mass * BURNED.heat_capacity)
    expected = 293.15 + (1050 - 293.15) * exp(-ntu)
    assert side.stations[-1].temperature == pytest.approx(expected)


@pytest.mark.parametrize(
    ("cylinders", "branches", "strokes", "times"),
    [(4, 1, 4, 1), (4, 4, 4, 1), (8, 8, 4, 0.5), (1, 1, 4, 4), (6, 2, 4, 2 / 3), (2, 2, 2, 1)],
)
def test_a_branch_flows_in_its_own_strokes(cylinders: int, branches: int, strokes: int, times: float) -> None:
    duty = walk.Duty(0.1, cylinders=cylinders, strokes=strokes)
    assert duty.in_branch("intake", branches) == pytest.approx(0.1 * times)


def test_what_was_measured_across_a_part_stands_for_all_of_it() -> None:
    own = tube(2, 0.1, drop=800.0, drop_flow=0.08)
    side = walk.flow_through(
        [tube(1, 0.05), own, tube(3, 0.05)], "intake", walk.Duty(0.08 * AIR.density(101325, 293.15))
    )
    assert [p.loss.what for p in side.pieces[1].parts] == ["own loss, measured"]
    assert side.pieces[1].drop == pytest.approx(800.0, rel=0.02)
    assert [p.loss.what for p in side.pieces[2].parts] == ["wall friction"]


def test_a_jet_counts_in_the_branches_it_leaves() -> None:
    """First principles: two pipes of half the flow each lose half the flow's dynamic pressure, not the whole flow's."""
    pipes = tube(1, 0.05, 0.1, "exhaust", branches=2)
    muffler = box(2, 0.01, "exhaust", "muffler")
    side = walk.flow_through([pipes, muffler, tube(3, 0.06, 0.1, "exhaust")], "exhaust", DUTY)
    jet, friction = side.pieces[1].parts[0], side.pieces[0].parts[0]
    assert jet.loss.what == "jet into a volume"
    assert jet.dynamic == pytest.approx(friction.dynamic, rel=0.05)


def test_a_loss_across_one_of_two_is_that_of_half_the_flow() -> None:
    rho = AIR.density(101325, 293.15)
    pair = [tube(1, 0.05, branches=2, drop=500.0, drop_flow=0.05)]
    assert walk.flow_through(pair, "intake", walk.Duty(0.1 * rho, cylinders=8)).drop == pytest.approx(500.0, rel=0.01)


def test_compressor_intercooler_and_turbine() -> None:
    compressor = tube(1, 0.05, kind="compressor", pressure_ratio=2.0)
    cooler = tube(2, 0.05, kind="intercooler", outlet_temperature=320.0)
    side = walk.flow_through([compressor, cooler], "intake", DUTY)
    hot = 293.15 * (1 + (2 ** (0.4 / 1.4) - 1) / walk.COMPRESSOR_EFFICIENCY)
    assert side.stations[1].temperature == pytest.approx(hot)
    assert side.stations[3].temperature == 320.0
    assert side.stations[1].total > 1.9e5
    turbine = tube(3, 0.05, side="exhaust", kind="turbine", pressure_ratio=1.8)
    duty = walk.Duty(0.10, heat_transfer=0.0)
    out = walk.flow_through([turbine], "exhaust", duty)
    assert out.has_turbine
    assert out.stations[0].total > 1.75e5
    hot, exponent = DUTY.exhaust_temperature, (BURNED.gamma - 1.0) / BURNED.gamma
    work = 0.65 * hot * (1.0 - 1.8**-exponent)  # common practice, no source: 65 % of the ideal expansion
    assert out.stations[1].temperature == pytest.approx(hot - work, rel=1e-6)
    assert "turbine" in figures.total_figure(out).label


def test_a_flow_that_nothing_drives_is_refused_by_name() -> None:
    with pytest.raises(InputError, match="choked there"):
        walk.flow_through([tube(1, 0.01)], "intake", DUTY)
    with pytest.raises(InputError, match="choked there"):
        walk.flow_through([tube(1, 0.008, 2.0, "exhaust")], "exhaust", DUTY)
    for bad in (
        {"air_mass_flow": 0.0},
        {"air_mass_flow": 0.1, "air_fuel_ratio": 0.0},
        {"air_mass_flow": 0.1, "exhaust_temperature": 200.0},
    ):
        with pytest.raises(InputError, match=r"more than nought|hotter than the room"):
            walk.Duty(**bad)


def words(*elements: walk.PathElement) -> str:
    return "; ".join(m.said.words("metric").replace("\u00a0", " ") for m in remedy.marks(elements))


def test_marks_say_what_an_eye_misses() -> None:
    assert words(tube(1, 0.06), tube(2, 0.056)) == "step against the flow, 2.0 mm a side"
    assert words(tube(1, 0.056), tube(2, 0.06)) == "opens with a step, 2.0 mm a side"
    assert words(tube(1, 0.06), tube(2, 0.0602)) == ""
    assert words(tube(1, 0.05, burr=0.0008)) == "burr of 0.8 mm left inside"
    assert words(tube(1, 0.05, proud=0.0005)) == "gasket stands 0.5 mm proud"
    assert words(tube(1, 0.05, bend_angle=radians(90))) == "mitred bend of 90°"
    squashed = tube(1, 0.05, round_area=ROUND(0.055).area)
    assert words(squashed) == "squashed to 83% of its round area"
    steep = tube(1, 0.046, 0.042, "exhaust", exit=ROUND(0.0606))
    assert words(steep) == "widens at 20° included, area ratio 1.74: the flow parts from the wall"
    assert words(replace(steep, length=0.2)) == ""
    assert "may part" in words(replace(steep, length=0.06))
    assert words(tube(1, 0.06), box(2), tube(3, 0.04)) == ""


REMEDIES = [
    (lambda: [tube(1, 0.06, bend_angle=radians(90))], "a bend of 1.5 D"),
    (lambda: [tube(1, 0.09), tube(2, 0.06, 0.05, round_area=ROUND(0.07).area), tube(3, 0.061)], "the tube left round"),
    (lambda: [tube(1, 0.09), tube(2, 0.05), tube(3, 0.085)], "opened to the tube 3"),
    (lambda: [tube(1, 0.06, burr=0.006, mouth_radius=0.02)], "edges made flush"),
    (lambda: [tube(1, 0.05, 0.01)], "a rounded mouth"),
    (lambda: [tube(1, 0.05, 0.1, drop=4000.0, drop_flow=0.08, mouth_radius=0.02)], "half its own loss"),
    (lambda: [tube(1, 0.045, 0.03, exit=ROUND(0.09), mouth_radius=0.02)], "a cone of 7°"),
]


@pytest.mark.parametrize(("make", "wanted"), REMEDIES, ids=[w for _, w in REMEDIES])
def test_the_remedy_for_the_weakest_element(make: object, wanted: str) -> None:
    elements = make()  # type: ignore[operator]
    side = walk.flow_through(elements, "intake", DUTY)
    fix = remedy.best_fix(elements, side)
    assert fix is not None
    assert fix.words == wanted
    assert 0 < fix.gain < side.drop


def test_what_a_remedy_is_worth() -> None:
    intake = walk.flow_through([tube(1, 0.06)], "intake", DUTY)
    assert remedy.worth(intake, 1013.25, 0.002, 600.0).value == pytest.approx(0.01)
    exhaust = walk.flow_through([tube(1, 0.06, side="exhaust")], "exhaust", DUTY)
    assert remedy.worth(exhaust, 10e3, 0.002, 2 * pi * 100).value == pytest.approx(10e3 * 0.002 * 100 / 2)


def test_figures_carry_every_part_and_the_spread() -> None:
    elements = [tube(1, 0.06, bend_angle=radians(90), bend_radius=0.09, nominal=True), tube(2, 0.055)]
    side = walk.flow_through(elements, "intake", DUTY)
    figure = figures.loss_figure(side, side.pieces[0])
    assert figure.value == pytest.approx(sum(s.value for s in figure.working.steps[:-1]))
    assert figure.uncertainty is not None
    assert any("nominal" in note for note in figure.working.notes)
    total = figures.total_figure(side)
    assert total.value == pytest.approx(sum(figures.share_figure(side, p).value * total.value for p in side.pieces))
    mach = figures.peak_mach(side)
    assert mach is not None
    assert "tube 2" in mach.label
    assert figures.peak_mach(walk.flow_through([], "intake", DUTY)) is None


@given(st.lists(st.floats(0.035, 0.09), min_size=1, max_size=6), st.floats(0.01, 0.09))
def test_no_path_gives_pressure_back_for_nothing(diameters: list[float], mass: float) -> None:
    """Every loss is positive, total pressure never rises, and area is never negative."""
    elements = [tube(i, d) for i, d in enumerate(diameters, start=1)]
    side = walk.flow_through(elements, "intake", walk.Duty(mass))
    totals = [s.total for s in side.stations]
    assert totals == sorted(totals, reverse=True)
    assert all(p.low <= p.drop * (1 + 1e-9) and p.drop <= p.high * (1 + 1e-9) for p in side.pieces)
    assert all(s.area > 0 and s.velocity > 0 for s in side.stations)


def test_a_cone_that_widens_costs_more_than_the_same_cone_that_narrows() -> None:
    """Common practice, no source: air is easier squeezed than spread; 20° included, well rounded duties."""
    wide, narrow = ROUND(0.08), ROUND(0.05)
    opens = tube(1, 0.05, 0.085, exit=wide)
    closes = tube(1, 0.08, 0.085, exit=narrow)
    k = losses.cone(narrow, wide, 0.085, 2e5, opens.roughness).k
    assert k > 2 * losses.cone(wide, narrow, 0.085, 2e5, opens.roughness).k
    counted = [
        next(loss for loss, *_ in walk._wall_losses(piece, 2e5) if loss.kind is kind)
        for piece, kind in ((opens, losses.LossKind.WIDENING), (closes, losses.LossKind.NARROWING))
    ]
    assert counted[0].k == pytest.approx(k)
    assert counted[0].k > 2 * counted[1].k


def test_friction_counts_the_length_once() -> None:
    """Darcy and Weisbach: K = f·L/D of the straight tube, Colebrook's f at the tube's own Reynolds number."""
    piece = tube(1, 0.05, 0.6)
    ((found, _, branches),) = walk._wall_losses(piece, 2e5)
    f = fluids.friction_factor(Re=2e5, eD=piece.roughness / 0.05)
    assert branches == 1
    assert found.k == pytest.approx(f * 0.6 / 0.05, rel=1e-6)
