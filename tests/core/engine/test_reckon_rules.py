"""Rules of boost, heat, pipe and clutch at their bounds, against exact acoustics and a clutch that is run."""

from __future__ import annotations

from math import pi, sqrt, tan

import pytest
from scipy.optimize import brentq

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import reckoning_named
from longbreath.core.engine import boost, clutch, headers, retune, runners, sizes, tuned_pipe
from longbreath.core.engine.demand import EngineGeometry


def exact_resonance(
    temperature: float, length: float = 0.35, area: float = pi / 4 * 0.05**2, volume: float = 500e-6
) -> float:
    """First resonance [Hz] of a neck on a volume, tan(kL) = A/(V·k): reference sheet F.helm.exact."""
    sound = sqrt(1.4 * 287.05 * temperature)
    k = brentq(lambda k: tan(k * length) - area / (volume * k), 1e-6, pi / 2 / length - 1e-9)
    return k * sound / (2 * pi)


def test_the_exact_neck_is_the_reference_sheet_s() -> None:
    assert exact_resonance(343**2 / (1.4 * 287.05)) == pytest.approx(149.848, rel=1e-5)


@pytest.mark.parametrize(("before", "after"), [(300.0, 340.0), (600.0, 900.0), (900.0, 700.0)])
def test_retuning_goes_with_the_root_of_temperature_as_exact_acoustics_do(before: float, after: float) -> None:
    """Any shape of pipe: its exact resonance moves by √(T2/T1), which is what the rule says."""
    found = retune.retuned(1000.0, before, after, None, None)
    assert found.value / 1000.0 == pytest.approx(exact_resonance(after) / exact_resonance(before), rel=1e-9)


def test_a_quarter_wave_moves_with_its_length() -> None:
    """Reference sheet F.qw: a/(4·L)."""
    found = retune.retuned(1000.0, 900.0, 900.0, 0.5, 0.4)
    assert found.value == pytest.approx(1250.0)
    with pytest.raises(InputError, match="told twice"):
        retune.retuned(1000.0, 900.0, 900.0, 0.5, None)


@pytest.mark.parametrize(
    ("quoted", "gas", "words"),
    [
        ("8300 rpm", "exhaust", "Believable"),
        ("9600 rpm", "exhaust", "measure the gas temperature"),
        ("12000 rpm", "exhaust", "Not believable"),
        ("8300 rpm", "runner", "Not believable"),
    ],
)
def test_a_shift_that_needs_too_much_heat_is_not_believed(quoted: str, gas: str, words: str) -> None:
    texts = {"speed": "8000 rpm", "shifted": quoted, "before": "800 K", "gas": gas}
    answer = reckoning_named("retune_needs").answer(texts)
    assert answer.judgement is not None
    assert words in answer.judgement.words("metric")
    assert "{" not in answer.judgement.words("us")


def test_quotes_that_cannot_both_hold_contradict_with_their_figures() -> None:
    """Common practice, no source: 6 psi moves 8,000–8,200 to 8,800–9,000; a quote of 8,000–8,100 to 8,150–8,200 is another pipe."""
    one = retune.Quote(8000 * RPM, 8200 * RPM, 8800 * RPM, 9000 * RPM)
    other = retune.Quote(8000 * RPM, 8100 * RPM, 8150 * RPM, 8200 * RPM)
    _, _, apart = retune.quarrel(one, other)
    assert apart
    words = retune.say_quarrel(one, other, apart)
    assert "contradict" in words
    assert "1.073 to 1.125" in words
    same = retune.Quote(7400 * RPM, 7600 * RPM, 8000 * RPM, 8200 * RPM)
    assert not retune.quarrel(one, same)[2]
    with pytest.raises(InputError, match="backwards"):
        retune.check_quote(retune.Quote(2.0, 1.0, 3.0, 4.0), "first", "first_then")


def run_clutch(found: clutch.Clutch, torque: float, inertia: float = 0.004) -> float:
    """Speed [rad/s] at which an engine of constant torque settles against a slipping clutch: marched in time."""
    speed = found.engages
    for _ in range(40000):
        carried = found.shoes * found.friction * found.drum * (found.mass * found.radius * speed**2 - found.spring)
        speed += (torque - max(0.0, carried)) / inertia * 2e-5
    return speed


@pytest.mark.parametrize(("mass", "spring", "torque"), [(0.12, 1100.0, 9.0), (0.08, 900.0, 16.0), (0.2, 2500.0, 30.0)])
def test_the_clutch_holds_where_a_marched_engine_settles(mass: float, spring: float, torque: float) -> None:
    found = clutch.Clutch(2, mass, 0.034, spring, 0.3, 0.045)
    assert found.mass * found.radius * found.engages**2 == pytest.approx(spring)
    assert found.speed_for(torque) == pytest.approx(run_clutch(found, torque), rel=1e-4)


def test_an_over_heavy_clutch_holds_it_off_the_pipe_and_the_lighter_shoe_does_not() -> None:
    heavy = clutch.Clutch(2, 0.12, 0.034, 1100.0, 0.3, 0.045)
    held = clutch.match(heavy, 9.0, 16.0, 8600 * RPM)
    assert not held.on_pipe
    assert held.lost is not None
    assert held.lost.value == pytest.approx(7.0 * held.held.value)
    shoe = clutch.lightest(heavy, 16.0, 8600 * RPM).value
    light = clutch.Clutch(2, shoe, 0.034, 1100.0, 0.3, 0.045)
    assert light.speed_for(16.0) == pytest.approx(8600 * RPM)
    through = clutch.Clutch(2, 0.6 * shoe, 0.034, 1100.0, 0.3, 0.045)
    assert clutch.match(through, 9.0, 16.0, 8600 * RPM).on_pipe
    assert "Too heavy" in clutch.say_match(held, 8600 * RPM, 11500 * RPM)
    assert "waits" in clutch.say_band(7000 * RPM, 6000 * RPM, 8600 * RPM)
    feather = clutch.match(clutch.Clutch(2, 0.01, 0.034, 1100.0, 0.3, 0.045), 9.0, 16.0, 8600 * RPM)
    assert "it slips" in clutch.say_match(feather, 8600 * RPM, 11500 * RPM)
    with pytest.raises(InputError, match="no less than off it"):
        clutch.match(heavy, 16.0, 9.0, 8600 * RPM)
    with pytest.raises(InputError, match="outside"):
        clutch.Clutch(2, 0.1, 0.05, 1000.0, 0.3, 0.045)


WAVE = 518.16
"""Mean speed of the wave in a warm pipe [m/s]: 1,700 ft/s (after Jennings, from memory)."""


def test_a_pipe_s_pieces_add_up_and_its_window_holds_its_tuned_speed() -> None:
    speed, opened, transfer = 11000 * RPM, 190 * pi / 180, 130 * pi / 180
    length = tuned_pipe.tuned_length(opened, speed, WAVE).value
    found = tuned_pipe.pieces(length, 0.038, 1.1, 2.6, 0.62)
    assert sum(p.length for p in found[:-1]) == pytest.approx(length)
    assert [a.exit for a in found[1:3]] == pytest.approx([b.entry for b in found[2:4]])
    assert found[4].entry == pytest.approx(2.6 * 0.038)
    low, high = tuned_pipe.window(length, opened, transfer, WAVE)
    assert low.value < speed < high.value
    with pytest.raises(InputError, match="widest place"):
        tuned_pipe.pieces(length, 0.038, 1.1, 1.0, 0.62)
    with pytest.raises(InputError, match="open longer"):
        tuned_pipe.window(length, opened, opened, 500.0)


def test_the_rule_of_850_is_two_round_trips_of_hot_gas() -> None:
    """The rule's 850 ft/s is half of 1,700 ft/s, the speed of sound of gas at some 695 K: then two round trips give the same."""
    temperature = (1700 * 0.3048) ** 2 / (1.33 * 290)
    by_rule = headers.primary_by_rule(6500 * RPM, 80 * pi / 180).value
    by_wave = headers.primary_by_wave(6500 * RPM, 80 * pi / 180, temperature, 3 * 0.0254, 2).value
    assert by_rule == pytest.approx(by_wave, rel=1e-9)
    with pytest.raises(InputError, match="no length is left"):
        headers.primary_by_rule(400000 * RPM, 1.0)
    with pytest.raises(InputError, match="the port alone"):
        headers.primary_by_wave(60000 * RPM, 1.0, 900.0, 2.0, 1)


def test_boost_without_boost_is_the_room_and_a_cooler_gives_back() -> None:
    none = boost.Charge(101325.0, 293.15, 0.0)
    assert (none.ratio, none.charge, none.density_ratio) == pytest.approx((1.0, 293.15, 1.0))
    hot = boost.Charge(101325.0, 293.15, 9e4)
    cooled = boost.Charge(101325.0, 293.15, 9e4, effectiveness=1.0)
    assert cooled.charge == pytest.approx(293.15)
    assert cooled.density_ratio > hot.density_ratio
    with pytest.raises(InputError, match="better than 100"):
        boost.Charge(101325.0, 293.15, 9e4, efficiency=1.2)
    with pytest.raises(InputError, match="too cool"):
        boost.turbine_expansion(boost.Charge(101325.0, 293.15, 6e5), 12.0, 450.0, 0.4, 0.6, 0.0)


def test_turbine_and_compressor_do_the_same_work() -> None:
    """First principles: what the gas gives over the expansion found is what the air takes."""
    charge = boost.Charge(101325.0, 298.15, 9e4)
    expansion = boost.turbine_expansion(charge, 12.0, 1120.0, 0.65, 0.97, 1e4)[0].value
    given = (1 + 1 / 12) * 1.33 * 290 / 0.33 * 1120.0 * (1 - expansion ** (-0.33 / 1.33)) * 0.65 * 0.97
    taken = 1.4 * 287.05 / 0.4 * (charge.hot - 298.15)
    assert given == pytest.approx(taken, rel=1e-9)


def test_sizes_that_cannot_be_are_refused() -> None:
    with pytest.raises(InputError, match="share out"):
        sizes.throttle_bore(0.1, 60.0, 3, 4, 4)
    with pytest.raises(InputError, match="One to three"):
        sizes.valve_of_bore(0.08, 5)
    single = sizes.throttle_bore(0.1, 60.0, 1, 4, 4).value
    four = sizes.throttle_bore(0.1, 60.0, 4, 4, 4).value
    assert four == pytest.approx(single)  # each of four flows a quarter of the time, with all the air of one stroke
    assert headers.merged_bore(0.04, 4).value == pytest.approx(2 * 0.93 * 0.04)
    with pytest.raises(InputError, match="Two pipes"):
        headers.merged_bore(0.04, 1)


def test_a_runner_without_a_known_cam_is_answered_by_helmholtz_alone() -> None:
    runner = runners.Runner(0.371, 0.043, 1.45e-3, None, 313.15, 499e-6, 11.2)
    found = runners.tuned_speeds(runner)
    assert [t.school for t in found] == [runners.HELMHOLTZ]
    assert "By no school" in runners.say_usable(found, 0.0, 100.0)
    assert EngineGeometry(0.08, 0.08, 4).displacement > 0
