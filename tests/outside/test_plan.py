"""Plans against published examples, another language's mixed models, and made-up records of known truth."""

from __future__ import annotations

import csv
from pathlib import Path

import numpy as np
import pytest

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.compare import compare, planning
from longbreath.core.compare.components import Repeat, fit
from longbreath.core.compare.design import choose_design
from longbreath.core.compare.levels import levels_of
from longbreath.core.compare.scatter import Scatter
from longbreath.core.compare.spending import AT_FIRST
from longbreath.core.plan.designs import Factor, cells_of
from longbreath.core.plan.expected import Expected, chances
from longbreath.core.plan.factorial import completeness, degrees_of_freedom
from tests.outside.sessions import at_least, at_most

FROZEN = Path(__file__).parent / "frozen"


def test_power_of_two_samples_by_another_language() -> None:
    """R 4.2, power.t.test(n = 20, delta = 1, sd = 1): 0.8689528 two-sided (the documented example of that function); the chance in
    the wrong direction is below 1e-6. Frozen with tests/outside/frozen/design.R."""
    found = planning.chance_of_gain(1.0, 0.0, (2.0 / 20.0) ** 0.5, 38.0, family=1, confidence=0.95)
    assert found == pytest.approx(0.8689528, abs=2e-4)


def test_sizes_of_blocked_pairs_by_a_published_table() -> None:
    """Cohen, Statistical Power Analysis, 2nd ed., table 2.4.1: two-sided 5 %, power 0.80, d = 1.00: n = 17 a group (from memory)."""
    powers = {
        n: planning.chance_of_gain(1.0, 0.0, (2.0 / n) ** 0.5, 2.0 * n - 2.0, family=1, confidence=0.95)
        for n in (16, 17)
    }
    assert powers[16] < 0.80 <= powers[17]


def test_degrees_of_freedom_and_aliases_by_another_language() -> None:
    """R 4.2, anova and alias of a 2 × 2 × 3 with all effects of two: 1, 1, 2, 1, 2, 2 and 2 left. Frozen with design.R."""
    factors = (
        Factor("bore", 9.0, ("1", "2")),
        Factor("spacer", 9.0, ("1", "2")),
        Factor("setting", 1.0, ("1", "2", "3")),
    )
    assert list(degrees_of_freedom(factors).values()) == [1, 1, 2, 1, 2, 2, 2]
    cells = cells_of(factors)
    rows = [(0, 0, 0), (1, 1, 0), (1, 0, 1), (0, 0, 2), (0, 1, 1), (1, 1, 2)]
    half = completeness(
        factors, cells, [letter for letter, cell in cells.items() if cell in [(a, b, c) for a, b, c in rows]]
    )
    assert half.filled == 6
    assert half.df == 0
    assert not any(e.told for e in half.effects), (
        "R calls four of its columns aliased, with all the others among their causes"
    )


def _on_record() -> list[Repeat]:
    with (FROZEN / "pulls.csv").open() as file:
        rows = list(csv.DictReader(file))
    return [
        Repeat(float(r["value"]), r["what"], int(r["visit"]), int(r["fitting"]), int(r["place"]), int(r["dossier"]))
        for r in rows
    ]


def test_variance_components_as_another_language_fits_them() -> None:
    """R 4.2 with lme4 1.1-31, REML: 0.450359 between pulls, 0.655573 between sets, 0.401926 between days (scatter.R)."""
    found = fit(_on_record())
    assert found.scatter.pull == pytest.approx(0.450359, rel=1e-4)
    assert found.scatter.fitting == pytest.approx(0.655573, rel=1e-4)
    assert found.scatter.day == pytest.approx(0.401926, rel=1e-3)
    assert (found.scatter.pull_df, found.scatter.fitting_df, found.scatter.day_df) == (72, 30, 6)


def _made(rng: np.random.Generator, visits: int, pull: float, fitting: float, day: float) -> list[Repeat]:
    found = []
    for visit in range(visits):
        of_day, drift, place = rng.normal(0, day), rng.normal(0, 0.05), 0
        for number, letter in enumerate("ABABA"):
            of_set = rng.normal(0, fitting)
            for _ in range(3):
                place += 1
                value = 180 + 3 * (letter == "B") + of_day + of_set + drift * (place - 8) + rng.normal(0, pull)
                found.append(Repeat(value, f"1/{letter}", visit, number, place, 1))
    return found


@pytest.mark.parametrize(
    ("pull", "fitting", "day"), [(0.5, 0.8, 0.6), pytest.param(1.0, 0.3, 0.0, marks=pytest.mark.long)]
)
def test_variance_components_find_the_truth_they_were_made_with(pull: float, fitting: float, day: float) -> None:
    rng = np.random.default_rng(7)
    found = [fit(_made(rng, 10, pull, fitting, day)).scatter for _ in range(12)]
    assert np.sqrt(np.mean([s.pull**2 for s in found])) == pytest.approx(pull, rel=0.08)
    assert np.sqrt(np.mean([(s.fitting or 0.0) ** 2 for s in found])) == pytest.approx(fitting, abs=0.12)
    assert np.sqrt(np.mean([(s.day or 0.0) ** 2 for s in found])) == pytest.approx(day, abs=0.22)


def test_what_the_records_cannot_show_is_not_said() -> None:
    rng = np.random.default_rng(1)
    one_fitting = [Repeat(180 + rng.normal(0, 1), "1/A", 1, 0, k, 1) for k in range(8)]
    found = fit(one_fitting)
    assert found.scatter.fitting is None
    assert found.scatter.day is None
    assert "No part was taken off" in found.notes[0]
    with pytest.raises(EvidenceError, match="three degrees of freedom"):
        fit(one_fitting[:3])
    with pytest.raises(EvidenceError, match="no repeats"):
        fit([])


@pytest.mark.parametrize("order", ["AAABBBAAA", "AAABBBAAABBBAAA", "AAACCCBBBAAA"])
@pytest.mark.parametrize("fitting", [0.0, 0.7])
def test_promise_and_verdict_are_one_where_sets_scatter_too(
    order: str, fitting: float, request: pytest.FixtureRequest
) -> None:
    """Simulated sessions judged as Weigh judges: the promised gain is proven in four of five, nothing is proven in one of forty."""
    rng = np.random.default_rng(11)
    scatter = Scatter(1.0, fitting=fitting, fitting_df=10.0) if fitting else Scatter(1.0)
    promised = planning.provable(scatter, order, 100.0, "").value
    plan, sessions = planning.plan_of(order), 1200 if request.config.getoption("--long") else 300
    sets, is_b = np.asarray(plan.fittings), np.array([label == "B" for label in plan.labels])
    proven = wrong = 0
    for truth in (promised, 0.0):
        for _ in range(sessions):
            known = fitting * (rng.chisquare(10) / 10) ** 0.5
            y = 100 + truth * is_b + 0.05 * np.asarray(plan.places) + rng.normal(0, 1, len(sets))
            y += rng.normal(0, fitting, sets.max() + 1)[sets]
            design, _ = choose_design(list(plan.labels), list(plan.places), y)
            on_record = Scatter(1.0, fitting=known, fitting_df=10.0) if fitting else Scatter(1.0)
            levels = levels_of(design, plan.fittings, scatter=on_record)
            effect = compare.effect(y, design, AT_FIRST, family=3, levels=levels)
            said = compare.verdict(effect, 1.0, confidence=AT_FIRST)
            proven += truth > 0 and said == compare.GAIN and effect.value >= 1.0
            wrong += truth == 0.0 and said in (compare.GAIN, compare.LOSS)
    assert at_least(proven, sessions, 0.78)
    assert at_most(proven, sessions, 0.84)
    assert at_most(wrong, sessions, 0.03)


def test_another_fitting_buys_more_than_more_pulls_when_sets_scatter() -> None:
    scatter = Scatter(0.5, fitting=1.0, fitting_df=12.0)
    again = planning.provable(scatter, "AAABBBAAABBBAAA", 180.0, "").value
    longer = planning.provable(scatter, "AAABBBBBBAAA", 180.0, "").value
    assert again < 0.8 * longer


def test_verdicts_to_expect_follow_the_prediction() -> None:
    plan = planning.plan_of("AAABBBAAA")
    bands = [Expected("low", -0.1, 0.0, 0.1, 180.0), Expected("top", 5.0, 6.0, 7.0, 180.0)]
    found = chances(plan, Scatter(0.5), bands, draws=400)
    assert found["top"][compare.GAIN] > 0.97
    assert found["low"][compare.NO_DIFFERENCE] > 0.7
    assert found["low"].get(compare.GAIN, 0.0) < 0.06
    assert all(abs(sum(shares.values()) - 1.0) < 1e-9 for shares in found.values())


def test_one_repeated_fitting_says_nothing_of_the_scatter_between_fittings() -> None:
    rng = np.random.default_rng(5)
    found = fit(_made(rng, 1, 0.5, 0.0, 0.0)[:12])
    assert found.scatter.fitting is None
    assert "Too few degrees of freedom" in found.notes[-1]
