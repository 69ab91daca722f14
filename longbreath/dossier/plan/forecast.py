"""What verdict each design would have given for the standing prediction: asked for as background work, kept by its inputs."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.compare.planning import plan_of
from longbreath.core.compare.scatter import Scatter
from longbreath.core.plan import designs
from longbreath.core.plan.designs import PullSet, order_of
from longbreath.core.plan.expected import Expected, chances
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.plan.promise import level_of, sized
from longbreath.dossier.reckon.predictions import forecast_of, predictions_of, standing
from longbreath.dossier.records.cards import sets_of
from longbreath.dossier.records.scatter import scatter_of
from longbreath.store.models import Application, Prediction, TestCard

DRAWS = 1500
"""Sessions drawn for each band and design: a share is then good to about one in a hundred."""


def inputs_of(db: Session, application: Application, card: TestCard, day: date) -> dict[str, Any]:
    """Everything the forecast of a card is made from. Raises EvidenceError without a standing prediction of torque."""
    prediction = next((p for p in standing(predictions_of(db, application.id)) if p.quantity == "torque"), None)
    if prediction is None:
        raise EvidenceError("There is no prediction of torque yet: say first what is expected, and how sure that is.")
    scatter, pair = scatter_of(db, card.dyno, day), card.planned_pair(application.id)
    level = level_of(application)
    return {
        "prediction": prediction.id,
        "bands": [_band(prediction, b.name, b.low, b.high, level) for b in bands_of(application.vehicle)],
        "scatter": [scatter.pull, scatter.fitting, scatter.fitting_df if scatter.fitting is not None else 0.0],
        "designs": [[name, list(order_of(sets))] for name, sets in _designs(card, pair).items()],
        "pair": list(pair),
        "draws": DRAWS,
    }


def _designs(card: TestCard, pair: tuple[str, str]) -> dict[str, tuple[PullSet, ...]]:
    """The card as it stands, and what else it could be."""
    sets, n = sets_of(card), card.pulls_per_set
    found = {"the card as it stands": sets}
    for fittings in (1, 2):
        name = "-".join([pair[0], *[pair[1], pair[0]] * fittings])
        for pulls in (3, 5):
            other = sized(designs.alternation(3, fittings, True, pair), pulls)
            if order_of(other) != order_of(sets):
                found[f"{name}, {pulls} pulls a set"] = other
    if n != 6:
        found["the card with 6 pulls a set"] = sized(sets, 6)
    return found


def _band(prediction: Prediction, name: str, low: float, high: float, level: float) -> dict[str, Any]:
    """The change expected in a band, as means over it."""
    curve = forecast_of(prediction)
    mean = curve.mean(np.linspace(low, high, 25)) if curve is not None else None
    if mean is None:
        raise EvidenceError(f"The prediction says nothing about the {name} band.")
    return {"band": name, "least": mean.low, "middle": mean.middle, "most": mean.high, "reference": level}


def forecast(inputs: Mapping[str, Any], progress: Callable[[float, str], None]) -> dict[str, Any]:
    """Share of sessions with each verdict, by design and band, in order. progress is told the share done, and may raise."""
    pull, fitting, df = inputs["scatter"]
    scatter = Scatter(pull, fitting=fitting, fitting_df=df)
    bands = [Expected(**band) for band in inputs["bands"]]
    count, found = len(inputs["designs"]), list[list[Any]]()
    for k, (name, order) in enumerate(inputs["designs"]):

        def tell(share: float, k: int = k, name: str = name) -> None:
            progress((k + share) / count, name)

        shares = chances(plan_of(order, *inputs["pair"]), scatter, bands, inputs["draws"], 1 + k, tell)
        found.append([name, [[band, list(of.items())] for band, of in shares.items()]])
    return {"designs": found}
