"""Scores on made tests with known truth: hits and misses, error of place, the board's shares and words."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from longbreath.core.basis.constants import RPM
from longbreath.core.compare import compare
from longbreath.core.compare.bands import Band
from longbreath.core.reckon import board, scoring
from longbreath.core.reckon.forecast import (
    AIRFLOW,
    PEAK_SPEED,
    POWER,
    TORQUE,
    Drawn,
    Forecast,
    ForecastPoint,
    drawn_by_hand,
)
from longbreath.core.reckon.scoring import HIT, MISS, UNTOLD, BandFound
from tests.core.compare.quick import bands_alone

GRID = np.arange(2000.0, 7000.0, 50.0) * RPM
BANDS = (
    Band("low", 2000 * RPM, 3500 * RPM),
    Band("middle", 3500 * RPM, 5200 * RPM),
    Band("top", 5200 * RPM, 6950 * RPM),
)


def hump(at: float, size: float = 5.0) -> np.ndarray:
    return size * np.exp(-0.5 * ((GRID / RPM - at) / 500.0) ** 2)


def made_test(effect: np.ndarray, seed: int = 1, noise: float = 0.3, peak: float = 5000.0) -> compare.Comparison:
    """A-B-A of three pulls a set, with a true effect of B [N m] and noise from pull to pull."""
    rng = np.random.default_rng(seed)
    base = 200.0 - 20.0 * ((GRID / RPM - peak) / 1500.0) ** 2
    runs = []
    for order, label in enumerate("AAABBBAAA", start=1):
        torque = base + rng.normal(0, noise) + rng.normal(0, noise / 3, GRID.size)
        runs.append(compare.PullCurve(label, order, torque + (effect if label == "B" else 0.0)))
    return compare.compare_pulls(runs, GRID)


def said(*values: tuple[float, float, float], quantity: str = TORQUE) -> Forecast:
    drawn = [Drawn(b.low, b.high, *v) for b, v in zip(BANDS, values, strict=True)]
    return drawn_by_hand(quantity, drawn)


def found(value: float, error: float, df: float = 20.0) -> BandFound:
    return BandFound("x", (0.0, 1.0), value, error, df, 100.0)


@pytest.mark.parametrize(
    ("value", "error", "outcome"),
    [(0.0, 0.1, HIT), (5.0, 0.1, MISS), (1.0, 0.5, UNTOLD), (0.0, 5.0, UNTOLD), (-5.0, 0.0, MISS), (1.0, 0.0, HIT)],
)
def test_a_hit_or_a_miss_only_where_it_can_be_told(value: float, error: float, outcome: str) -> None:
    assert scoring.score_band(ForecastPoint(0, -1, 0, 1), found(value, error)).outcome == outcome


def test_the_chance_is_that_of_the_t_distribution() -> None:
    """Against scipy's t directly: 1 either side of nought, found 0.4 with an error of 0.7 and 6 degrees of freedom."""
    t = stats.t(6, loc=0.4, scale=0.7)
    chance = scoring.chance_inside(ForecastPoint(0, -1, 0, 1), found(0.4, 0.7, 6))
    assert chance == pytest.approx(t.cdf(1) - t.cdf(-1), abs=1e-12)


def test_bands_with_known_truth_are_hit_and_missed() -> None:
    scored = scoring.score(said((-1, 0, 1), (1, 3, 5), (3, 4, 5)), made_test(hump(4300)), BANDS)
    assert [s.outcome for s in scored] == [HIT, HIT, MISS]
    middle = scored[1]
    truth = hump(4300)[(BANDS[1].low - 1e-9 <= GRID) & (BANDS[1].high + 1e-9 >= GRID)].mean()
    assert abs(middle.found.value - truth) < middle.half_width
    assert middle.error == pytest.approx(middle.found.value - 3)
    figure = scoring.score_figure(middle, TORQUE)
    assert figure.value == middle.error
    assert "97.5 %" in figure.working.notes[0]
    assert middle.to_json()["outcome"] == HIT


def test_eighty_per_cent_bands_hold_in_eighty_per_cent_of_made_tests() -> None:
    """200 made tests: the truth is drawn so that the band holds it in 80 %; mean chance and hits must say so."""
    rng = np.random.default_rng(7)
    chances = []
    with bands_alone():
        for seed in range(200):
            truth = rng.normal(0, 1 / stats.norm.ppf(0.9))
            scored = scoring.score(
                said((-1, 0, 1), (-1, 0, 1), (-1, 0, 1)), made_test(np.full(GRID.size, truth), seed, 0.2), BANDS
            )
            chances.append(scored[1].chance)
    assert np.mean(chances) == pytest.approx(0.80, abs=0.06)


def test_power_is_scored_in_watts_of_the_same_pulls() -> None:
    comparison = made_test(np.full(GRID.size, 3.0))
    torque = scoring.found_in_bands(comparison, BANDS, False)[1][0]
    power = scoring.found_in_bands(comparison, BANDS, True)[1][0]
    speeds = GRID[(BANDS[1].low <= GRID) & (BANDS[1].high >= GRID)]
    assert power.value == pytest.approx(torque.value * speeds.mean(), rel=0.01)
    scored = scoring.score(said(*[(900.0, 1300.0, 1800.0)] * 3, quantity=POWER), comparison, BANDS)
    assert scored[1].outcome == HIT


def test_the_speed_of_peak_power_is_found_from_each_pull() -> None:
    """A straight gain towards the top moves the peak up by a few hundred rpm."""
    effect = 25.0 * (GRID / RPM - 4500) / 2000.0
    moved = scoring.found_peak_speed(made_test(effect))
    assert moved.value > 50 * RPM
    scored = scoring.score(
        Forecast(PEAK_SPEED, (ForecastPoint(0, 20 * RPM, moved.value, 1500 * RPM),)), made_test(effect), BANDS
    )
    assert [s.name for s in scored] == ["peak"]
    none = scoring.found_peak_speed(made_test(np.zeros(GRID.size)))
    assert abs(none.value) < 4 * none.standard_error + 60 * RPM


def curve(at: float) -> Forecast:
    return Forecast(
        TORQUE, tuple(ForecastPoint(float(x), d - 1.0, float(d), d + 1.0) for x, d in zip(GRID, hump(at), strict=True))
    )


def test_an_error_of_place_is_found_where_the_curve_was_right_but_elsewhere() -> None:
    place = scoring.error_of_place(curve(4000), made_test(hump(4400)))
    assert place is not None
    assert place.is_told
    assert place.shift == pytest.approx(0.10, abs=0.03)
    assert place.shifted < place.as_said / 2


def test_a_curve_at_its_place_is_not_said_to_be_shifted() -> None:
    place = scoring.error_of_place(curve(4400), made_test(hump(4400)))
    assert place is not None
    assert abs(place.shift) < 0.03
    assert not place.is_told
    assert scoring.error_of_place(said((-1, 0, 1), (0, 1, 2), (0, 1, 2)), made_test(hump(4400))) is None
    assert scoring.error_of_place(Forecast(AIRFLOW, (ForecastPoint(0, -1, 0, 1),)), made_test(hump(4400))) is None


def test_a_curve_of_many_humps_is_not_shifted_onto_noise() -> None:
    """Humps every 600 rpm fit a little better somewhere by chance: that is not an error of place."""
    wiggly = 3.0 * np.sin(GRID / RPM / 600.0 * 2 * np.pi)
    points = tuple(ForecastPoint(float(x), d - 1.0, float(d), d + 1.0) for x, d in zip(GRID, wiggly, strict=True))
    for seed in range(5):
        place = scoring.error_of_place(Forecast(TORQUE, points), made_test(hump(4400), seed))
        assert place is not None
        assert not place.is_told


def test_expected_peak_and_local_are_three_numbers() -> None:
    sizes = scoring.sizes_of(said((0, 1, 2), (0, 1, 2), (0, 1, 2)), made_test(hump(3000, 8.0)))
    assert sizes is not None
    assert sizes.expected == pytest.approx(1.0)
    assert sizes.local == pytest.approx(8.0, abs=1.0)
    assert sizes.local_at == pytest.approx(3000 * RPM, abs=200 * RPM)
    assert abs(sizes.peak) < 2.0
    assert scoring.sizes_of(Forecast(AIRFLOW, (ForecastPoint(0, -1, 0, 1),)), made_test(hump(3000))) is None


def entries(number: int, chance: float, expected: float, truth: float = 3.0) -> list[board.Entry]:
    rng = np.random.default_rng(3)
    return [
        board.Entry(
            n, expected + rng.normal(0, 0.1), truth + rng.normal(0, 0.1), 200.0, chance, HIT if chance > 0.9 else MISS
        )
        for n in range(number)
        for _ in range(3)
    ]


@pytest.mark.parametrize(
    ("made", "worth", "words"),
    [
        (entries(4, 0.9, 3.0), board.UNTOLD, "too few to judge"),
        (entries(12, 0.85, 3.0), board.KEEPS, "agree with 80%"),
        (entries(30, 0.2, 3.0), board.KEEPS, "too narrow"),
        (entries(60, 0.99, 3.0), board.KEEPS, "wider than they need be"),
        (entries(12, 0.1, -9.0), board.WORSE, "Worse than saying nothing"),
        (entries(12, 0.85, 0.05, 0.0), board.WORSE, "Worse than saying nothing"),
    ],
)
def test_a_source_earns_its_keep_or_does_not(made: list[board.Entry], worth: str, words: str) -> None:
    found = board.standing("school", made)
    assert found.worth == worth
    assert words in found.words
    assert found.bands == 3 * found.forecasts


def test_bands_of_one_forecast_count_once() -> None:
    """Wilson 1927 by scipy's own binomial interval: 4 of 5 held."""
    made = [board.Entry(n, 0.0, 1.0, 100.0, 0.0 if n == 4 else 1.0, HIT) for n in range(5) for _ in range(20)]
    found = board.standing("x", made)
    expected = stats.binomtest(4, 5).proportion_ci(method="wilson")
    assert found.held.value == pytest.approx(0.8)
    assert found.held.between == pytest.approx((expected.low, expected.high), abs=1e-9)
    assert found.bias.value == pytest.approx(0.01)
