"""The boost table of a dyno day: what each setting, or each letter, reached; the limits; the next step that is safe."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.engine.assumptions import BOOSTED
from longbreath.core.tune.boost_table import Reached, Step, next_step, remarks
from longbreath.dossier.plan.cards import sensor_ceiling
from longbreath.store.models import Application, DynoSession, TestCard

SPRING = "spring"
"""A level that is called so is the controller left out: the least there is."""


@dataclass(frozen=True)
class BoostTable:
    """Rows, limits by what they are [Pa], pressure of the spring [Pa] or None, the next step (None without settings), sentences."""

    rows: tuple[Reached, ...]
    limits: Mapping[str, float]
    spring: float | None
    step: Step | None
    remarks: tuple[str, ...]


def boost_table(db: Session, application: Application, session: DynoSession) -> BoostTable | None:
    """The boost table of a session; None for an engine that nothing fills, or where no boost was logged and no setting is planned."""
    if application.vehicle.induction not in BOOSTED:
        return None
    card = session.card
    reached: dict[str, list[float]] = {}
    for pull in session.full_pulls:
        boost = pull.read.told.get("facts", {}).get("boost")
        if pull.is_valid and boost is not None:
            reached.setdefault(pull.label, []).append(float(boost))
    rows = _by_setting(card, reached) or [
        Reached(f"{letter}, {card.called(letter)}", None, tuple(boosts)) for letter, boosts in sorted(reached.items())
    ]
    if not rows:
        return None
    spring = card.limits.get("spring")
    held = float(spring) if isinstance(spring, float) else None
    limits = _limits(db, card)
    has_settings = any(row.setting is not None for row in rows)
    return BoostTable(tuple(rows), limits, held, next_step(rows, limits) if has_settings else None, remarks(rows, held))


def _limits(db: Session, card: TestCard) -> dict[str, float]:
    found = {}
    boost = card.limits.get("boost")
    if isinstance(boost, float):
        found["the boost at which to stop"] = boost
    ceiling = sensor_ceiling(db, card.limits)
    if ceiling is not None:
        found["the end of the sensor"] = ceiling
    return found


def _by_setting(card: TestCard, reached: Mapping[str, list[float]]) -> list[Reached]:
    """A row for each level of the factor that is the controller, with the pulls of all letters that bear it."""
    for place, factor in enumerate(card.factors):
        settings = [_setting(level) for level in factor["levels"]]
        if any(setting is None for setting, _ in settings):
            continue
        letters = [[v.letter for v in card.variants if v.levels and v.levels[place] == k] for k in range(len(settings))]
        return [
            Reached(
                str(level),
                settings[k][0],
                tuple(b for letter in letters[k] for b in reached.get(letter, ())),
                settings[k][1],
            )
            for k, level in enumerate(factor["levels"])
        ]
    return []


def _setting(level: str) -> tuple[float | None, float | None]:
    """The number of a setting written "30 % = 0.7 bar" (nought for the spring alone), and the boost expected of it [Pa]; None where it
    has no number, or no boost."""
    name, equals, text = str(level).partition("=")
    number = re.search(r"\d+(?:[.,]\d+)?", name)
    alone = SPRING in name.lower()
    if not equals or (number is None and not alone):
        return None, None
    try:
        setting = float(number[0].replace(",", ".")) if number is not None else 0.0
        return setting, units.parse(text.strip(), "pressure").value
    except InputError:
        return None, None
