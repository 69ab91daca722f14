"""Reads of Weigh: figures of a weighing, and the answer about any band."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.dyno import bands, compare
from longbreath.core.dyno.bands import Band, Judged, Weighing
from longbreath.store.models import DynoSession, Prediction


def chosen(sessions: list[DynoSession], wanted: list[int]) -> list[DynoSession]:
    """The sessions that the address names, or the newest that has pulls."""
    if wanted:
        return [s for s in sessions if s.id in wanted]
    return [s for s in sessions if s.pulls][:1]


def left_out(sessions: list[DynoSession], weighing: Weighing) -> int:
    """How many pulls of these sessions do not count."""
    return sum(len(session.pulls) for session in sessions) - len(weighing.comparison.runs)


def sealed_prediction(db: Session, application_id: int) -> Prediction | None:
    """The newest prediction that was sealed by the first pull, or None."""
    query = select(Prediction).where(
        Prediction.application_id == application_id, Prediction.sealed_at.is_not(None)
    )
    return db.scalar(query.order_by(Prediction.id.desc()).limit(1))


def figures(weighing: Weighing) -> dict[str, Figure]:
    """Bands and peaks by name, and the largest local difference of each band as "local-<band>"."""
    found = {
        item.name.replace(" ", "-"): bands.judged_figure(item, weighing.comparison) for item in weighing.judged
    }
    for band, local in zip(weighing.bands, weighing.locals, strict=True):
        key = f"local-{band.name}"
        found[key] = bands.local_figure(local, weighing.comparison, key)
    back = bands.return_figure(weighing.comparison)
    return found | ({"return": back} if back is not None else {})


def asked(weighing: Weighing, low: float, high: float) -> Judged:
    """The verdict for a band chosen after looking [rad/s].

    Its interval uses the simultaneous critical value, which holds for any band that is picked out by eye.
    Raises InputError for a band the wrong way round.
    """
    if high <= low:
        raise InputError("The band must end above where it begins.", "high")
    comparison = weighing.comparison
    plain = comparison.band_effect(low, high)
    half = comparison.critical * plain.standard_error
    found = compare.Effect(plain.value, plain.standard_error, half, plain.residual_sd, plain.df, plain.drift)
    reference = comparison.mean_of_a(low, high)
    margin = compare.MARGIN_SHARE * reference
    band = Band("band asked about", low, high)
    return Judged(band.name, "torque", found, compare.verdict(found, margin), reference, margin, band)
