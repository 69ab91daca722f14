"""Candidates held against a target: figures, shortfalls, what is owed, and no score."""

from __future__ import annotations

from dataclasses import replace
from math import radians, sqrt
from typing import Any

import pytest

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.engine.demand import EngineGeometry
from longbreath.core.reckon.assess import GO, NO_GO, OPEN, assess
from longbreath.core.reckon.candidates import FAMILIES, Candidate, Limits, Setting, family_of
from longbreath.core.reckon.rests import MEASURED, NOMINAL, SUPPLIER, Known

SETTING = Setting(
    EngineGeometry(0.0846, 0.0888, 4),
    11.2,
    radians(248),
    313.15,
    1.204,
    280e-3 / 3.6e6,
    12.8,
    head_flow=0.11,
    head_words="bench",
)
LIMITS = Limits(120e3, 6000 * RPM, 50.0, 75.0)
FULL: dict[str, Any] = {"area": 1.45e-3, "length": 0.371, "height": 0.228}


def candidate(family: str = "manifold", rests: str = MEASURED, **values: Any) -> Candidate:
    return Candidate("the part", family, {key: Known(value, rests, "x") for key, value in values.items()})


def test_a_part_that_holds_is_a_go_and_says_why() -> None:
    found = assess(candidate(**FULL), LIMITS, SETTING)
    assert found.verdict == GO
    assert found.reason("us") == "It holds against everything the target asks."
    air = 120e3 * 280e-3 / 3.6e6 * 12.8 / 1.204
    assert found.figures["velocity"].value == pytest.approx(air / 1.45e-3)
    assert not any("score" in name for name in found.figures)


@pytest.mark.parametrize(
    ("values", "limits", "words"),
    [
        ({**FULL, "area": 0.8e-3}, {}, "Too small"),
        ({**FULL, "area": 3.0e-3}, {}, "which costs torque"),
        ({**FULL, "height": 0.25}, {"height": 0.235}, "15 mm too high"),
        (FULL | {"lip": 0.004}, {"lip": 0.002}, "2 mm to fill or to machine"),
        (FULL | {"access": 9000.0}, {"access": 7200.0}, "30 min too long"),
        (FULL | {"price": 700.0}, {"price": 650.0}, "50 too dear"),
        (FULL | {"deck": 0.235}, {"deck": 0.230}, "the faces miss by 5 mm"),
        (FULL | {"flow": 0.12}, {"loss": 0.10}, "too much"),
        (
            FULL | {"length": 0.12},
            {"tuned_from": 3800 * RPM, "tuned_to": 4000 * RPM},
            "By no school does it tune within",
        ),
    ],
)
def test_a_shortfall_is_told_in_figures(values: dict[str, Any], limits: dict[str, Any], words: str) -> None:
    found = assess(candidate(**values), replace(LIMITS, **limits), SETTING)
    assert found.verdict == NO_GO
    assert words in found.reason("metric").replace("\u00a0", " ")


def test_what_is_not_known_is_owed_and_never_guessed() -> None:
    found = assess(candidate(length=0.3), replace(LIMITS, height=0.235, loss=0.1), SETTING)
    assert found.verdict == OPEN
    assert found.owed == ("section", "how high it stands", "flow of the part alone")
    assert "owed: section" in found.reason("us")
    assert "velocity" not in found.figures
    alone = assess(candidate(**FULL, flow=0.3), replace(LIMITS, loss=0.1), replace(SETTING, head_flow=None))
    assert "flow of the head alone" in alone.owed


def test_the_loss_on_this_head_is_the_series_law_or_what_was_measured() -> None:
    """Series law, common practice: 1/Q² = 1/Q_h² + 1/Q_p²."""
    found = assess(candidate(**FULL, flow=0.3), replace(LIMITS, loss=0.1), SETTING)
    assert found.figures["loss"].value == pytest.approx(1 - 1 / sqrt(1 + (0.11 / 0.3) ** 2))
    measured = assess(candidate(**FULL, flow=0.3, loss=0.02), replace(LIMITS, loss=0.1), SETTING)
    assert measured.figures["loss"].value == 0.02


def test_width_and_height_make_a_section() -> None:
    found = assess(candidate(section_width=0.05, section_height=0.029, length=0.3, height=0.2), LIMITS, SETTING)
    assert found.verdict == GO
    assert "corners left square" in found.figures["velocity"].working.givens[-1].meaning


def test_a_turbocharger_by_its_rating_and_its_contradiction() -> None:
    values = {"mass_flow": 0.20, "mass_flow_other": 0.26, "pressure_ratio": 2.8}
    found = assess(candidate("turbocharger", SUPPLIER, **values), replace(LIMITS, ratio=2.0), SETTING)
    assert found.verdict == GO
    assert "contradict one another by 30%" in found.remarks[0]
    assert found.figures["mass_flow_limit"].value == pytest.approx(120e3 * 280e-3 / 3.6e6 * 12.8)
    assert "mass_flow" not in found.figures  # its column shows the rating
    weak = assess(
        candidate("turbocharger", SUPPLIER, mass_flow=0.05, pressure_ratio=1.5), replace(LIMITS, ratio=2.0), SETTING
    )
    assert weak.verdict == NO_GO
    assert [c.key for c in weak.failed] == ["mass_flow", "pressure_ratio"]


def test_a_step_of_porting_by_the_wall_it_leaves() -> None:
    thin = assess(candidate("porting step", wall=0.0018), replace(LIMITS, wall=0.003), SETTING)
    assert thin.verdict == NO_GO
    assert "1.2 mm too thin" in thin.reason("metric").replace("\u00a0", " ")
    assert assess(candidate("porting step", wall=0.004), replace(LIMITS, wall=0.003), SETTING).verdict == GO


def test_a_disc_by_its_closing_its_tract_and_its_case() -> None:
    one = replace(SETTING, engine=EngineGeometry(0.062, 0.057, 1, 2))
    late = {"opens": radians(150), "closes": radians(88), "inlet_length": 0.084, "case_volume": 520e-6}
    found = assess(candidate("disc or crank", **late), LIMITS, one)
    assert found.verdict == NO_GO
    assert "top speed on a large enough cylinder" in found.remarks[0]
    assert found.figures["fill"].value == pytest.approx((520 + 172.09) / 520, rel=1e-3)
    safe = assess(candidate("disc or crank", **{**late, "closes": radians(50)}), LIMITS, one)
    assert safe.verdict == GO
    assert "small cylinder" in safe.remarks[0]
    loose = assess(candidate("disc or crank", **{**late, "case_volume": 1200e-6}), LIMITS, one)
    assert any("larger than" in words for words in loose.remarks)


def test_what_cannot_be_is_said_and_the_rest_still_stands() -> None:
    one = replace(SETTING, engine=EngineGeometry(0.062, 0.057, 1, 2))
    absurd = assess(
        candidate("disc or crank", opens=1.0, closes=1.0, inlet_length=0.084, case_volume=1e-6), LIMITS, one
    )
    assert absurd.remarks
    for area in (0.0, -1.0):
        flat = assess(candidate(area=area, length=0.3, height=0.2), LIMITS, SETTING)
        assert flat.verdict == OPEN
        assert "cannot be: This must be more than nought. (area)" in flat.reason("us")
    none = assess(candidate("turbocharger", mass_flow=0.0, pressure_ratio=2.0), LIMITS, SETTING)
    assert none.verdict == OPEN
    tractless = assess(candidate("disc or crank", opens=2.0, closes=1.0, inlet_length=0.0), LIMITS, one)
    assert tractless.verdict == OPEN


@pytest.mark.parametrize(
    ("words", "family"),
    [
        ("manifold", "manifold"),
        ("inlet elbow", "other"),
        ("turbocharger", "turbocharger"),
        ("carburettor", "carburettor"),
        ("throttle body", "throttle body"),
        ("port inserts", "porting step"),
        ("rotary disc", "disc or crank"),
    ],
)
def test_columns_follow_the_family(words: str, family: str) -> None:
    assert family_of(words) == family
    assert FAMILIES[family][-1].noted


def test_limits_that_run_backwards_are_refused() -> None:
    with pytest.raises(InputError, match="more than the least"):
        replace(LIMITS, velocity_most=40.0)
    with pytest.raises(InputError, match="two ends"):
        replace(LIMITS, tuned_from=400.0)
    with pytest.raises(InputError, match="ends above"):
        replace(LIMITS, tuned_from=400.0, tuned_to=300.0)
    with pytest.raises(InputError, match="no columns"):
        candidate("bicycle")
    with pytest.raises(InputError, match="rests on"):
        Known(1.0, "a feeling")
    assert Known(1.0, NOMINAL, "card").words == "nominal: card"
