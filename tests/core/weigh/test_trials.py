"""Fuel trials, temperature, noise, mass, kits at parity, effects of factors."""

from __future__ import annotations

from datetime import date
from math import exp

import numpy as np
import pytest

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.compare import compare
from longbreath.core.weigh import fuel, readings
from longbreath.core.weigh.figures import cost_figures, reading_figure, trial_figures
from longbreath.core.weigh.fuel import Run, weigh_trial
from longbreath.core.weigh.parity import Item, Kit, cost_of, payback, weigh_kits
from longbreath.core.weigh.readings import Noise, Temperature
from longbreath.core.weigh.several import make_model, rank
from tests.core.weigh.test_several import pulls
from tests.outside.sessions import at_least, at_most

KM, LITRE = 1000.0, 1e-3


def vans(saving: float, seed: int = 0, own: float = 0.012, week: float = 0.02, count: int = 6) -> list[Run]:
    """Twelve vans over eight weeks: each has its thirst and changes a little by itself; half get the part after four weeks."""
    rng, rows = np.random.default_rng(seed), []
    for van in range(2 * count):
        treated, base, change = van < count, 9.0 + rng.normal(0.0, 0.5), rng.normal(0.0, own)
        for k in range(8):
            after = k >= 4
            log_change = (change + 0.01 + (np.log(1 - saving) if treated else 0.0)) * after + rng.normal(0.0, week)
            distance = rng.uniform(800, 1200) * KM
            rows.append(
                Run(f"van {van}", treated, after, distance, base * exp(log_change) * distance / KM / 100 * LITRE)
            )
    return rows


def test_a_large_saving_is_found_and_the_season_is_not_taken_for_it() -> None:
    found = weigh_trial(vans(0.06, seed=1))
    assert found.verdict == compare.GAIN
    assert found.low <= -0.06 <= found.high
    assert found.sentence.startswith("A saving is proven")
    assert found.df == 10.0  # twelve vans less two, whatever the number of weeks


def test_a_saving_inside_the_noise_stays_there_and_the_trial_says_what_it_could_have_seen() -> None:
    found = weigh_trial(vans(0.004, seed=2))
    assert found.verdict == compare.NOT_PROVEN
    assert "could not have been proven by this trial" in found.sentence
    assert 0.01 < found.provable < 0.06


def test_with_as_many_weeks_each_the_mixed_model_is_the_difference_of_the_vehicles_own_changes() -> None:
    """Balanced: REML (statsmodels) and two samples of changes by hand are one and the same."""
    rows = vans(0.02, seed=4)
    names = list(dict.fromkeys(r.vehicle for r in rows))
    value, error, _ = fuel._mixed(rows, names)
    by_hand = fuel._by_vehicle(rows, names)
    assert value == pytest.approx(by_hand[0], rel=1e-6)
    assert error == pytest.approx(by_hand[1], rel=0.05)


@pytest.mark.parametrize("mixed", [False, pytest.param(True, marks=pytest.mark.long)])
def test_trials_hold_as_often_as_they_say(mixed: bool, monkeypatch: pytest.MonkeyPatch) -> None:
    """Simulated trials: the interval holds the truth, and nothing is proven where there is nothing. In balanced trials the mixed
    model is the difference of the vehicles' own changes (the test above), which takes a fiftieth of the time."""
    if not mixed:
        monkeypatch.setattr(fuel, "_mixed", lambda rows, names: (*fuel._by_vehicle(rows, names), ()))
    held = proven = 0
    sessions = 400
    for seed in range(sessions):
        found = weigh_trial(vans(0.0, seed=100 + seed))
        held += found.low <= 0.0 <= found.high
        proven += found.verdict in (compare.GAIN, compare.LOSS)
    assert at_least(held, sessions, 0.94)
    assert at_most(held, sessions, 0.97)
    assert at_most(proven, sessions, 0.06)


@pytest.mark.parametrize(
    ("rows", "words"),
    [
        ([r for r in vans(0.0) if r.treated], "cannot be told from the part"),
        (vans(0.0, count=2), "Three vehicles of either kind"),
        ([*vans(0.0), Run("van 1", False, True, KM, LITRE)], "marked both"),
    ],
)
def test_trials_that_say_nothing(rows: list[Run], words: str) -> None:
    with pytest.raises(EvidenceError, match=words):
        weigh_trial(rows)


def test_a_vehicle_that_ran_only_before_is_left_out_and_a_driver_who_is_a_van_is_told() -> None:
    rows = [Run(r.vehicle, r.treated, r.after, r.distance, r.fuel, f"driver of {r.vehicle}") for r in vans(0.02)]
    lone = [r for r in rows if not (r.vehicle == "van 3" and r.after)]
    found = weigh_trial(lone)
    assert found.treated == 5
    assert any("van 3 ran only before" in note for note in found.notes)
    assert any("Drivers cannot be told from the vehicles" in note for note in found.notes)


def test_worth_and_the_averaging_mistake() -> None:
    """Reference sheet, K.lpk.sav: 9.0 to 8.6 l/100 km over 20,000 km is 80 l; K.co2: 2.3585 kg from a litre of petrol."""
    share = 8.6 / 9.0 - 1
    trial = fuel.FuelTrial(
        share, share - 0.01, share + 0.01, compare.GAIN, 0.02, 6, 6, 10.0, 9.0 * LITRE / (100 * KM), (), 96
    )
    found = fuel.worth(trial, 20000 * KM, 2000.0, "petrol")
    assert found.fuel[1] == pytest.approx(80 * LITRE)
    assert found.money is not None
    assert found.money[1] == pytest.approx(160.0)
    assert found.carbon[1] == pytest.approx(80 * 2.3585, rel=2e-3)
    two = [Run("a", True, False, 100 * KM, 10 * LITRE), Run("b", True, False, 100 * KM, 5 * LITRE)]
    right, wrong = fuel.averaged(two)
    assert right == pytest.approx(7.5 * LITRE / (100 * KM))
    assert wrong < right
    assert trial_figures(trial, found)["fuel-saved"].text("metric") == "+80 ± 18 L"


def temperatures(place: str = "after the cooler", medium: str = readings.CHARGE_AIR) -> list[Temperature]:
    rows = [
        ("A", 48.1, 21.0),
        ("A", 48.9, 21.5),
        ("A", 48.4, 21.2),
        ("B", 44.0, 20.8),
        ("B", 44.6, 21.3),
        ("B", 44.1, 21.1),
    ]
    return [Temperature(label, medium, place, v + 273.15, a + 273.15) for label, v, a in rows]


def test_temperatures_are_compared_over_ambient_place_by_place() -> None:
    (found,) = readings.weigh_temperatures(temperatures())
    assert found.verdict == "cooler"
    assert found.effect.value == pytest.approx(-4.06, abs=0.1)
    both = [*temperatures(), *temperatures("the runner", readings.SURFACE)]
    assert len(readings.weigh_temperatures(both)) == 2
    with pytest.raises(InputError, match="surface, in the gas"):
        Temperature("A", "somewhere", "here", 300.0, 290.0)


def test_surface_and_charge_air_are_never_mixed_and_what_still_moves_is_left_out() -> None:
    mixed = [t for t in temperatures() if t.label == "A"] + [
        t for t in temperatures(medium=readings.SURFACE) if t.label == "B"
    ]
    with pytest.raises(EvidenceError, match="No probe has two steady readings of each"):
        readings.weigh_temperatures(mixed)
    moving = Temperature("B", readings.CHARGE_AIR, "after the cooler", 330.0, 294.0, rate=4.0 / 60)
    (found,) = readings.weigh_temperatures([*temperatures(), moving])
    assert found.counts == (3, 3)
    assert "still moved" in found.out[0]


def test_noise_is_compared_only_under_one_set_of_conditions() -> None:
    levels = {"A": (88.1, 88.4, 87.9), "B": (91.0, 90.6, 91.3)}
    alike = [Noise(label, v, 0.5, 471.0, "A") for label, values in levels.items() for v in values]
    (found,) = readings.weigh_noise(alike, step=0.1)
    assert found.verdict == "louder"
    assert reading_figure("n", found).unit("us") == "dB"
    far = [Noise(n.label, n.value, 0.5 if n.label == "A" else 1.0, n.speed, n.weighting) for n in alike]
    with pytest.raises(EvidenceError, match="No distance, speed and weighting"):
        readings.weigh_noise(far)
    with pytest.raises(InputError, match="weighting is A, C or Z"):
        Noise("A", 88.0, 0.5, 471.0, "B")


def test_a_scale_that_shows_the_same_thrice_still_scatters_by_its_step() -> None:
    found = readings.weigh_masses([6.42] * 3, [5.18] * 3, 0.01)
    assert found.verdict == "lighter"
    assert found.effect.half_width > 0.0
    assert readings.weigh_masses([6.42] * 3, [6.42] * 3, 0.01).verdict == compare.NOT_PROVEN


DAY = date(2026, 10, 20)
DYKE = Kit("B", "Dyke", 339.0, DAY, (Item("filter", True), Item("filter oil", False, 9.5)), fit_minutes=30.0)
FELL = Kit("C", "Fell", 289.0, DAY, (Item("filter", False, 48.0), Item("seal", False, 6.0)), fit_minutes=60.0)


def ranked(b: float, c: float, noise: float = 0.4):  # type: ignore[no-untyped-def]
    made = pulls("AAABBBCCCAAA", {"B": b, "C": c}, noise=noise, seed=8)
    return rank(make_model(made), np.array([r.torque.mean() for r in made]), "by use")


def test_what_must_be_added_is_counted() -> None:
    assert cost_of(FELL, None).total == pytest.approx(343.0)
    assert cost_of(FELL, 60.0).total == pytest.approx(403.0)
    assert cost_of(Kit("C", "Fell", 289.0, DAY, (Item("filter", False),)), None).total is None


def test_kits_that_cannot_be_told_apart_are_equal_and_the_cheaper_wins() -> None:
    found = weigh_kits([DYKE, FELL], ranked(0.1, 0.2, noise=1.0), "A", {"B": 2.0, "C": 1.0}, None)
    assert found.value_winner == "C"
    assert found.peak_winner == "B"
    assert "cannot be told apart: the cheaper wins, Fell" in found.sentences[0]
    assert all(row.per_unit is None for row in found.rows)
    assert any("buys no proven gain" in words for words in found.sentences)
    dearer = weigh_kits([DYKE, FELL], ranked(0.1, 0.2, noise=1.0), "A", {}, 60.0)
    assert dearer.value_winner == "B"


def test_a_unit_of_gain_has_a_price_only_where_the_gain_is_proven() -> None:
    found = weigh_kits([DYKE, FELL], ranked(8.0, 3.0), "A", {}, None)
    assert found.value_winner == "B"
    by_letter = {row.cost.kit.letter: row for row in found.rows}
    assert by_letter["B"].per_unit == pytest.approx(348.5 / by_letter["B"].value)
    assert set(cost_figures(found.rows, 1.0)) == {"cost-B", "cost-C", "per-B", "per-C"}


def test_prices_of_different_days_and_missing_ones_are_said() -> None:
    old = Kit("C", "Fell", 289.0, date(2026, 1, 5), (Item("filter", False),))
    found = weigh_kits([DYKE, old], ranked(0.1, 0.1, noise=1.0), "A", {}, None)
    assert any("days apart" in words or "apart: ask them anew" in words for words in found.sentences)
    assert any("the price of filter not known" in words for words in found.sentences)
    assert found.value_winner == "B"
    with pytest.raises(InputError, match="what is in the box"):
        weigh_kits([], ranked(0.1, 0.1), "A", {}, None)
    with pytest.raises(InputError, match="Not weighed here: Scarp"):
        weigh_kits([Kit("D", "Scarp", 1.0, DAY)], ranked(0.1, 0.1), "A", {}, None)


def test_payback() -> None:
    """Reference sheet, K.pay: 480 at 133.333 a year are 3.6 years."""
    assert payback(480.0, 133.3333) == pytest.approx(3.6, rel=1e-5)
    assert payback(480.0, 0.0) is None
