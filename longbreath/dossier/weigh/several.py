"""More than two from the records: all variants of one card or of several, ranked by use; and others' published tables beside them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from threading import Lock

import numpy as np
from cachetools import LRUCache, cached
from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.working import Figure
from longbreath.core.case.case import digest_of
from longbreath.core.case.placing import Channels, is_of_several_dynos, runs_of, widest_scatter
from longbreath.core.case.seen import Test
from longbreath.core.pull import pulls
from longbreath.core.weigh import ranking
from longbreath.core.weigh.effects import FactorEffect, factor_effects
from longbreath.core.weigh.figures import pair_figure
from longbreath.core.weigh.ranking import Stability, Weights
from longbreath.core.weigh.several import Ranked, Several, weigh_several
from longbreath.core.weigh.trade import not_together
from longbreath.dossier.case.channels import channels_in
from longbreath.dossier.case.tests import test_of
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.records.cards import factors_of
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.drawing.weighing import Panel, RankedVariant
from longbreath.store.models import Application, DynoSession, OutsideTable, UseWeights
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class Many:
    """All variants weighed: the sessions, what each letter is called, the weighing, the ranking by use with its weights and
    stability."""

    sessions: tuple[DynoSession, ...]
    called: Mapping[str, str]
    weighed: Several
    weights: Weights
    ranked: Ranked
    stable: Stability
    apart: tuple[str, ...]
    effects: tuple[FactorEffect, ...] = ()

    @property
    def letters(self) -> tuple[str, ...]:
        """The variants."""
        return self.weighed.letters


def letters_with_pulls(sessions: Sequence[DynoSession]) -> dict[str, int]:
    """Letters of these sessions with how many valid pulls each has."""
    found: dict[str, int] = {}
    for session in sessions:
        for pull in session.full_pulls:
            if pull.is_valid:
                found[pull.label] = found.get(pull.label, 0) + 1
    return dict(sorted(found.items()))


def chosen_sessions(db: Session, application: Application, ids: Sequence[int]) -> list[DynoSession]:
    """The sessions that are named, or all of the newest card that has pulls of more than one letter; newest first."""
    every = [s for s in dyno_sessions(db, application.id) if s.full_pulls]
    if ids:
        return [s for s in every if s.id in ids]
    for session in every:
        mine = [s for s in every if s.card_id == session.card_id]
        if sum(count >= 2 for count in letters_with_pulls(mine).values()) >= 2:
            return mine
    return every[:1]


def many_of(
    db: Session, application: Application, sessions: Sequence[DynoSession], letters: Sequence[str] = ()
) -> Many:
    """All variants of these sessions (or those chosen) against each other. Raises EvidenceError where they cannot be weighed
    together."""
    if not sessions:
        raise EvidenceError("There are no pulls to weigh yet.")
    test = test_of(db, application, [s.id for s in sessions])
    if is_of_several_dynos(test.sessions):
        raise EvidenceError("Several variants are ranked on one dyno: choose sessions of one.")
    counts = letters_with_pulls(sessions)
    wanted = [letter for letter in letters if letter in counts] or [x for x, count in counts.items() if count >= 2]
    weighed = _weighed(test, tuple(wanted), channels_in(db))
    weights = weights_of(db, application)
    ranked = weighed.score(weights.shares, "by use")
    called = {
        letter: next((s.card.called(letter) for s in sessions if letter in s.card.letters), "") for letter in wanted
    }
    return Many(
        tuple(sessions),
        called,
        weighed,
        weights,
        ranked,
        ranking.stability(weighed, ranked, weights),
        not_together(weighed),
        _effects(sessions, weighed, weights),
    )


def _effects(sessions: Sequence[DynoSession], weighed: Several, weights: Weights) -> tuple[FactorEffect, ...]:
    """Effects of the factors by use, where all sessions are of one factorial."""
    cards = {session.card_id: session.card for session in sessions}
    card = next(iter(cards.values()))
    factors = factors_of(card)
    if len(cards) > 1 or len(factors) < 2:
        return ()
    cells = {row.letter: tuple(int(level) for level in row.levels) for row in card.variants if row.levels}
    runs = weighed.model.runs
    beside = weighed.model.matrix[:, len(weighed.letters) :]
    try:
        return factor_effects(factors, cells, [r.label for r in runs], weighed.scores(weights.shares), beside)
    except EvidenceError:
        return ()


@cached(LRUCache(64), key=lambda test, letters, channels: (letters, digest_of(test)), lock=Lock())
def _weighed(test: Test, letters: tuple[str, ...], channels: Channels) -> Several:
    grid = pulls.speed_grid(test.bands[0].low, test.bands[-1].high)
    sides = {s.number: {letter: letter for letter in letters} for s in test.sessions}
    runs = runs_of(test.sessions, sides, grid, channels)
    return weigh_several(runs, grid, test.bands, widest_scatter(test.sessions))


def weights_of(db: Session, application: Application) -> Weights:
    """The weights that were declared for an application, else those that its vehicle's use proposes."""
    newest = db.scalar(
        select(UseWeights).where(UseWeights.application_id == application.id).order_by(UseWeights.id.desc()).limit(1)
    )
    if newest is None:
        return ranking.weights_of_use(application.vehicle.use, bands_of(application.vehicle))
    return Weights({name: float(share) for name, share in newest.shares.items()}, newest.origin)


def declare_weights(work: UnitOfWork, application: Application, weights: Weights) -> UseWeights:
    """Keep the weights that rankings use from now on."""
    row = UseWeights(
        application_id=application.id, shares=dict(weights.shares), origin=weights.origin, made_by_id=work.actor.id
    )
    row.made_by = work.actor
    work.add(row)
    work.flush()
    return row


@dataclass(frozen=True)
class OthersCurve:
    """A curve of somebody else's test, laid beside own results and never ranked with them: table, name, grade, speeds [rpm],
    values [SI]."""

    table: str
    name: str
    grade: str
    rpm: tuple[float, ...]
    values: tuple[float, ...]


def others_beside(db: Session, ids: Sequence[int]) -> list[OthersCurve]:
    """The curves of others' tables that are asked for, of torque."""
    found = []
    for table in db.scalars(select(OutsideTable).where(OutsideTable.id.in_(ids)).order_by(OutsideTable.id)):
        if table.quantity != "torque":
            continue
        for k, name in enumerate(table.columns, start=1):
            rpm = tuple(float(row[0]) / RPM for row in table.rows)
            found.append(
                OthersCurve(table.name, str(name), table.grade, rpm, tuple(float(row[k]) for row in table.rows))
            )
    return found


def peak_powers(weighed: Several) -> dict[str, float]:
    """Peak power of each variant's mean curve [W]."""
    return {letter: float(np.max(weighed.mean_of(letter) * weighed.grid)) for letter in weighed.letters}


def reference_of(application: Application, many: Many) -> str:
    """The variant that others are laid against: the stock part's letter, else the first."""
    stock = many.sessions[0].card.pair_of(application.id)[0]
    return stock if stock in many.letters else many.letters[0]


def ranked_figures(many: Many, reference: str) -> tuple[dict[str, Figure], list[tuple[str, list[str], str]]]:
    """Figures of each variant against the reference, by use and by band; rows: letter, keys of its figures, verdict by use."""
    figures, rows = {}, []
    for letter, _ in many.ranked.means:
        if letter == reference:
            continue
        keys = []
        for place, ranked in enumerate((many.ranked, *(r for _, r in many.weighed.bands))):
            key = f"pair-{letter}-{place}"
            figures[key] = pair_figure(key, ranked, ranked.pair(reference, letter))
            keys.append(key)
        rows.append((letter, keys, many.ranked.pair(reference, letter).verdict))
    return figures, rows


def ranked_bars(many: Many, reference: str, system: str) -> list[RankedVariant]:
    """The ranking as it is drawn, in display units."""
    scale, names = units.scale("torque", system), apart_names(many.called)
    bars = []
    for letter, _ in many.ranked.means:
        if letter == reference:
            bars.append(RankedVariant(letter, names[letter], 0.0, 0.0, True))
            continue
        effect = many.ranked.pair(reference, letter).effect
        bars.append(RankedVariant(letter, names[letter], effect.value / scale, effect.half_width / scale))
    return bars


def apart_names(called: Mapping[str, str]) -> dict[str, str]:
    """What each variant is, without what they all share."""
    pieces = {letter: words.split(", ") for letter, words in called.items()}
    shared = set.intersection(*(set(parts) for parts in pieces.values())) if pieces else set()
    return {x: ", ".join(p for p in parts if p not in shared) or called[x] for x, parts in pieces.items()}


def pairs_of_part(application: Application, many: Many) -> list[tuple[str, str]]:
    """Pairs of letters that hold the stock part and the product, and are alike in all else: the same change under several settings."""
    stock, product, rows = application.stock_revision_id, application.revision_id, {}
    for session in many.sessions:
        for row in session.card.variants:
            parts = frozenset(part.revision_id for part in row.variant.parts)
            rows[row.letter] = (parts, row.variant.name, row.variant.control_mode)
    found = []
    for one in many.letters:
        for other in many.letters:
            (a, *beside), (b, *same) = rows[one], rows[other]
            if stock in a and product in b and a - {stock} == b - {product} and beside == same:
                found.append((one, other))
    return found


def panels_of(application: Application, many: Many, system: str) -> list[Panel]:
    """The part's difference under each setting that was pulled with both, in display units; nothing where there is but one."""
    scale = units.scale("torque", system)
    settings = {
        row.letter: row.variant.control_mode or row.variant.name for s in many.sessions for row in s.card.variants
    }
    pairs = pairs_of_part(application, many)
    rpm = [float(s) / RPM for s in many.weighed.grid]
    curves = {(p.one, p.other): p for p in many.weighed.pairs} | {(p.other, p.one): p for p in many.weighed.pairs}
    panels = []
    for one, other in pairs:
        curve = curves[one, other]
        sign = 1.0 if curve.one == one else -1.0
        title = f"{other} − {one}" + (f", {settings[other]}" if settings[other] else "")
        panels.append(Panel(title, rpm, list(sign * curve.difference / scale), list(curve.half_width / scale)))
    return panels if len(panels) > 1 else []
