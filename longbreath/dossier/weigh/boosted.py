"""Equal boost and response from the records: torque with its manifold pressure, pull by pull, on one grid."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError, LongBreathError
from longbreath.core.basis.working import Figure
from longbreath.core.dyno import compare, pulls
from longbreath.core.dyno.bands import Band, judged_figure
from longbreath.core.dyno.channels import ABSOLUTE, CHARGE, GAUGE, POWER, SPEED, TIME, TORQUE, TURBINE
from longbreath.core.dyno.compare import GAIN, LOSS
from longbreath.core.weigh import boost, response
from longbreath.core.weigh.boost import BoostedPull, EqualBoost
from longbreath.core.weigh.figures import equal_figure
from longbreath.core.weigh.ledger import Net
from longbreath.core.weigh.response import Judged, Rise
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.evidence.gather import Evidence
from longbreath.dossier.path.duty import flowing, usual_duty
from longbreath.dossier.path.elements import elements_of
from longbreath.dossier.path.versions import volume_rows
from longbreath.dossier.pull.sessions import channels_of, factor_of
from longbreath.dossier.weigh.pair import Sides, check_one_correction, known_scatter, pair_sides, places_of, row_of
from longbreath.drawing.weighing import Bar
from longbreath.store.models import Application, DynoSession, Pull, TestCard

CHANNELS = (SPEED, TORQUE, POWER, ABSOLUTE, GAUGE, CHARGE, TURBINE, TIME)
AFTER_START = 200.0
"""The engine speeds up by so many rpm a second, where nobody says otherwise: about second gear of a road vehicle. Ours."""


@dataclass(frozen=True)
class Schools:
    """Both schools of a boosted comparison, band by band: as set from the verdict, at equal boost by the sweep or the law, at
    equal back pressure where it was logged; words that each may back, and why a school is missing."""

    equal: EqualBoost | None
    back: EqualBoost | None
    words: tuple[str, ...]
    missing: tuple[str, ...]


def schools_of(db: Session, found: Evidence) -> Schools:
    """Equal boost beside as set, from the same pulls; by the pressure-ratio law where the engine has no sweep of its own."""
    grid = found.weighing.comparison.grid
    missing: list[str] = []
    scatter = known_scatter(db, found.sessions)
    pulls_of = boosted_pulls(db, found, grid, ABSOLUTE, missing)
    equal = None
    if pulls_of:
        try:
            equal = boost.by_own_sweep(pulls_of, grid, scatter=scatter)
        except EvidenceError as error:
            missing.append(error.message)
            try:
                equal = boost.by_ratio_law([p for p in pulls_of if p.label in ("A", "B")], grid)
            except EvidenceError as second:
                missing.append(second.message)
    back, none = None, list[str]()
    behind = boosted_pulls(db, found, grid, TURBINE, none)
    if behind:
        try:
            back = boost.by_own_sweep(behind, grid, scatter=scatter)
        except EvidenceError as error:
            missing.append(f"At equal back pressure: {error.message}")
    words = boost.words_of(equal, found.card.control_mode) if equal is not None else ()
    return Schools(equal, back, words, tuple(missing))


def boosted_pulls(
    db: Session, found: Evidence, grid: np.ndarray, pressure: str, missing: list[str]
) -> list[BoostedPull]:
    """Every valid pull of these sessions with its pressure on a grid: A and B by their labels, others by their letters."""
    check_one_correction(found.sessions)
    sides = _every_side(found)
    builds = {s.id: builds_on(s.card) for s in found.sessions}
    placed = places_of(found.sessions, sides)
    logged = channels_of(db, [pull for pull, *_ in placed], CHANNELS)
    made, without = [], []
    for pull, label, place, fitting, day in placed:
        channels = logged.get(pull.id, {})
        gauge = _pressure(channels, pressure, pull.session)
        if gauge is None:
            without.append(str(pull.sequence))
            continue
        made.append(
            _on_grid(channels, gauge, grid, pull, (label, builds[pull.session_id][pull.label], place, day, fitting))
        )
    usable = [p for p in made if np.isfinite(p.torque).all() and np.isfinite(p.pressure).all()]
    if without and pressure == ABSOLUTE:
        missing.append(f"No manifold pressure was logged in pull {', '.join(without)}: these take no part here.")
    if len(usable) < len(made) and pressure == ABSOLUTE:
        missing.append(
            f"{len(made) - len(usable)} pulls do not cover all speeds with their pressure and take no part here."
        )
    return usable


def _every_side(found: Evidence) -> Sides:
    sides = {}
    pairs = pair_sides(found.sessions, found.application.id)
    for session in found.sessions:
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


def _pressure(channels: Mapping[str, np.ndarray], wanted: str, session: DynoSession) -> np.ndarray | None:
    """Absolute pressure [Pa] along a pull's rows; gauge is put on the station's pressure."""
    if wanted in channels:
        return channels[wanted]
    if wanted == ABSOLUTE and GAUGE in channels:
        return channels[GAUGE] + session.pressure
    return None


def _on_grid(
    channels: Mapping[str, np.ndarray],
    pressure: np.ndarray,
    grid: np.ndarray,
    pull: Pull,
    told: tuple[str, str, int, int, int],
) -> BoostedPull:
    label, build, place, day, fitting = told
    torque = pulls.on_grid(pulls.make_sweep(channels), grid) * factor_of(pull.session)
    charge = along(channels, channels[CHARGE], grid) if CHARGE in channels else None
    if charge is not None and not np.isfinite(charge).all():
        charge = None
    return BoostedPull(label, build, place, torque, along(channels, pressure, grid), charge, row_of(pull), day, fitting)


def along(channels: Mapping[str, np.ndarray], values: np.ndarray, grid: np.ndarray) -> np.ndarray:
    """A channel on a grid of speeds, fitted as torque is; NaN where it was not logged."""
    speed = channels[SPEED]
    good = np.isfinite(speed) & np.isfinite(values)
    if good.sum() < pulls.MINIMUM_ROWS:
        return np.full(grid.shape, np.nan)
    return pulls.on_grid(pulls.Sweep({SPEED: speed[good], TORQUE: values[good]}), grid)


@dataclass(frozen=True)
class Response:
    """How boost came: the common target [Pa], what was compared, B − A at speeds before it stood, areas, and what is not known."""

    target: float
    judged: tuple[Judged, ...]
    before: tuple[tuple[float, float, float], ...]
    rate: float
    notes: tuple[str, ...]


def response_of(db: Session, found: Evidence, rate: float | None = None) -> Response:
    """Response of A and B from their logs. rate: how fast the engine speeds up [rad/s²] for the area under torque. Raises
    EvidenceError without boost or too few pulls."""
    comparison = found.weighing.comparison
    sides = pair_sides(found.sessions, found.application.id)
    placed = places_of(found.sessions, sides)
    logged = channels_of(db, [pull for pull, *_ in placed], CHANNELS)
    gauges, kept = {}, {}
    for pull, label, place, fitting, day in placed:
        channels = logged.get(pull.id, {})
        absolute = _pressure(channels, ABSOLUTE, pull.session)
        if absolute is not None:
            gauges[place] = absolute - pull.session.pressure
            kept[place] = (channels, compare.PullCurve(label, place, np.zeros(1), row_of(pull), fitting, day))
    if not gauges:
        raise EvidenceError("No manifold pressure was logged: response cannot be seen.")
    target = response.target_of(list(gauges.values()))
    rises = {
        place: response.rise_of(channels[SPEED], gauges[place], target, channels.get(TIME))
        for place, (channels, _) in kept.items()
    }
    runs = [run for _, run in kept.values()]
    rate = rate or AFTER_START * np.pi / 30.0
    judged = [*_judged(rises, runs), *_areas(comparison, found, rate)]
    speeds = [s for r in rises.values() for s in r.speeds if s is not None]
    fixed = _fixed_speeds(comparison, max(speeds, default=0.0), bands_of(found.application.vehicle))
    return Response(target, tuple(judged), tuple(response.torque_before(comparison, fixed)), rate, _notes(rises))


def _judged(rises: Mapping[int, Rise], runs: Sequence[compare.PullCurve]) -> list[Judged]:
    found = []
    for k, part in enumerate(response.PARTS):
        speeds = {p: r.speeds[k] for p, r in rises.items()}
        times = {p: r.times[k] for p, r in rises.items()}
        for name, kind, values in (
            (f"speed at {part:.0%} of the boost", "speed", speeds),
            (f"time to {part:.0%} of the boost", "time", times),
        ):
            known = {p: v for p, v in values.items() if v is not None}
            one = response.judge(name, kind, known, runs, early=True)
            if one is not None:
                found.append(one)
    return found


def _areas(comparison: compare.Comparison, found: Evidence, rate: float) -> list[Judged]:
    """Area under torque over the low band while the engine speeds up at a rate [N m s]."""
    band = bands_of(found.application.vehicle)[0]
    try:
        values = {
            run.order: response.area_while_rising(comparison.grid, run.torque, band.low, band.high, rate)
            for run in comparison.runs
        }
    except ValueError:
        return []
    one = response.judge(f"area under torque, {band.words} rpm", "impulse", values, comparison.runs, early=False)
    return [one] if one is not None else []


def _fixed_speeds(comparison: compare.Comparison, until: float, bands: Sequence[Band]) -> list[float]:
    """Three speeds between the lowest of the curves and where boost stands."""
    low = float(comparison.grid[0])
    high = min(until, bands[1].low) if until > low else bands[1].low
    return [float(s) for s in np.linspace(low, max(high, low), 4)[:-1]]


def _notes(rises: Mapping[int, Rise]) -> tuple[str, ...]:
    found = []
    if any(t is None for r in rises.values() for t in r.times):
        found.append("Some pulls have no clock, or never reached the target: they say nothing about time.")
    return (*found, response.LIMIT)


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
