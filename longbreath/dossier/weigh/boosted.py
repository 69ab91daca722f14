"""Equal boost and response from the records: torque with its manifold pressure, pull by pull, on one grid."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import LongBreathError
from longbreath.core.basis.working import Figure
from longbreath.core.dyno.bands import judged_figure
from longbreath.core.dyno.compare import GAIN, LOSS
from longbreath.core.weigh import logged as logged_pulls
from longbreath.core.weigh.figures import equal_figure
from longbreath.core.weigh.ledger import Net
from longbreath.core.weigh.logged import OF_BOOST, Logged, Response, Schools
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.evidence.gather import Evidence
from longbreath.dossier.path.duty import flowing, usual_duty
from longbreath.dossier.path.elements import elements_of
from longbreath.dossier.path.versions import volume_rows
from longbreath.dossier.pull.sessions import channels_of, factor_of
from longbreath.dossier.weigh.pair import Sides, check_one_correction, known_scatter, pair_sides, places_of, row_of
from longbreath.drawing.weighing import Bar
from longbreath.store.models import Application, DynoSession, TestCard


def logged_of(db: Session, sessions: Sequence[DynoSession], application_id: int) -> list[Logged]:
    """Every valid pull of sessions as it was logged: A and B by their labels, others by their letters."""
    check_one_correction(sessions)
    sides = _every_side(sessions, application_id)
    builds = {s.id: builds_on(s.card) for s in sessions}
    placed = places_of(sessions, sides)
    channels = channels_of(db, [pull for pull, *_ in placed], OF_BOOST)
    return [
        Logged(
            label,
            builds[pull.session_id][pull.label],
            place,
            fitting,
            day,
            row_of(pull),
            channels.get(pull.id, {}),
            pull.session.pressure,
            factor_of(pull.session),
        )
        for pull, label, place, fitting, day in placed
    ]


def schools_of(db: Session, found: Evidence) -> Schools:
    """Equal boost beside as set, from the same pulls."""
    logged = logged_of(db, found.sessions, found.application.id)
    scatter = known_scatter(db, found.sessions)
    return logged_pulls.schools(logged, found.weighing.comparison.grid, scatter, found.card.control_mode)


def response_of(db: Session, found: Evidence, rate: float | None = None) -> Response:
    """Response of A and B from their logs. rate: how fast the engine speeds up [rad/s²]. Raises EvidenceError without boost."""
    logged = logged_of(db, found.sessions, found.application.id)
    return logged_pulls.respond(logged, found.weighing.comparison, bands_of(found.application.vehicle), rate)


def _every_side(sessions: Sequence[DynoSession], application_id: int) -> Sides:
    sides = {}
    pairs = pair_sides(sessions, application_id)
    for session in sessions:
        mine = dict(pairs[session.id])
        sides[session.id] = {letter: mine.get(letter, f"·{letter}") for letter in session.card.letters}
    return sides


def builds_on(card: TestCard) -> dict[str, str]:
    """What each letter of a card is without the controller's setting: letters that differ in that alone are one build at other
    boosts."""
    found = {}
    settings = [k for k, f in enumerate(card.factors) if _is_controller(f)]
    for row in card.variants:
        if row.levels and settings:
            found[row.letter] = "/".join(str(level) for k, level in enumerate(row.levels) if k not in settings)
        else:
            parts = sorted(p.title for p in row.variant.parts)
            found[row.letter] = f"{row.variant.name}|{'+'.join(parts)}"
    return found


def _is_controller(factor: Mapping[str, object]) -> bool:
    name = str(factor["name"]).casefold()
    return any(word in name for word in ("controller", "boost", "duty", "setting"))


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
