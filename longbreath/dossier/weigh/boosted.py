"""Equal boost and response from the records: torque with its manifold pressure, pull by pull, on one grid."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import LongBreathError
from longbreath.core.basis.working import Figure
from longbreath.core.case import weigh
from longbreath.core.compare.bands import judged_figure
from longbreath.core.compare.compare import GAIN, LOSS
from longbreath.core.weigh.figures import equal_figure
from longbreath.core.weigh.ledger import Net
from longbreath.core.weigh.logged import Response, Schools
from longbreath.dossier.case.channels import channels_in
from longbreath.dossier.evidence.gather import Evidence
from longbreath.dossier.path.duty import flowing, usual_duty
from longbreath.dossier.path.elements import elements_of
from longbreath.dossier.path.versions import volume_rows
from longbreath.drawing.weighing import Bar
from longbreath.store.models import Application


def schools_of(db: Session, found: Evidence) -> Schools:
    """Equal boost beside as set, from the same pulls."""
    return weigh.schools_of(found.test, found.weighed, channels_in(db))


def response_of(db: Session, found: Evidence, rate: float | None = None) -> Response:
    """Response of A and B from their logs. rate: how fast the engine speeds up [rad/s²]. Raises EvidenceError without boost."""
    return weigh.response_of(found.test, found.weighed, channels_in(db), rate)


def band_figures(found: Evidence, schools: Schools) -> tuple[dict[str, Figure], list[BandRow]]:
    """Figures of both schools band by band, and rows that name their keys."""
    figures: dict[str, Figure] = {}
    rows = []
    for item in found.weighing.bands:
        band = item.band
        if band is None:
            continue
        as_set, keys = f"set-{item.name}", dict[str, str]()
        figures[as_set] = judged_figure(item, found.weighing.comparison)
        for name, equal in (("equal", schools.equal), ("back", schools.back)):
            made = equal_figure(f"{name}-{item.name}", band, equal) if equal is not None else None
            if made is not None:
                figures[made.name] = made
                keys[name] = made.name
        told = schools.equal is not None and item.verdict in (GAIN, LOSS)
        share = schools.equal.share_of_boost(band.low, band.high) if told and schools.equal is not None else None
        rows.append(BandRow(item.name, as_set, item.words, keys.get("equal", ""), keys.get("back", ""), share))
    return figures, rows


@dataclass(frozen=True)
class BandRow:
    """A band with the keys of its figures by each school ("" where one is refused), and the share of the gain that is boost."""

    name: str
    as_set: str
    verdict: str
    equal: str
    back: str
    share: float | None


def waterfalls(net: Net, system: str) -> list[tuple[str, list[Bar], str]]:
    """From observed to net, band by band, as bars in display units."""
    scale, unit = units.scale("torque", system), units.kind_named("torque").symbol(system)
    return [
        (item.name, [Bar(s.label, s.kind, s.value / scale, s.half_width / scale) for s in stages], unit)
        for item, stages in zip(net.bands, net.stages, strict=True)
    ]


def volumes_of(db: Session, application: Application) -> list[tuple[str, float]]:
    """Volumes of the path that boost has to fill, and the plenums [m3]; nothing where the path is not measured."""
    rows = elements_of(db, application.id)
    if not rows:
        return []
    try:
        at = flowing(application.vehicle, usual_duty(application.vehicle), "us")
        return [(row.what, row.volume.value) for row in volume_rows(application.vehicle, rows, at)]
    except LongBreathError:
        return []
