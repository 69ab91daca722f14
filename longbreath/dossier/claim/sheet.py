"""The sheet of a claim: everything it shows, frozen when it is published. It never reads the working records again."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from longbreath.core.air.correction import STANDARDS
from longbreath.core.basis import units
from longbreath.core.basis.working import Figure
from longbreath.core.build.sheet import Differing
from longbreath.core.claim.gates import APPROVALS
from longbreath.core.dyno import bands
from longbreath.core.plan.conditions import CONTROL_MODES, TUNE_MODES
from longbreath.core.weigh.figures import net_figures
from longbreath.core.weigh.ledger import UNKNOWN
from longbreath.dossier.claim.reads import Draft, by_hand
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.evidence.gather import Evidence
from longbreath.dossier.plan.variants import uneven_rounds
from longbreath.dossier.pull.sessions import correction_of
from longbreath.dossier.weigh.ledger import knowledge
from longbreath.drawing import charts

SHAPE = 2
"""The version of a sheet's shape: 1 held words that somebody typed, 2 holds facts."""
CAUTIONS = (
    "Measured on one vehicle in the state described. Another vehicle, state of tune, fuel or dyno can differ.",
    "Fitting and testing intake and exhaust parts can injure: hot parts, rotating parts, fuel vapour, carbon monoxide. "
    "Local codes and licensed practice decide.",
)


def content(draft: Draft) -> dict[str, Any]:
    """What the sheet of a draft would say now, without its picture."""
    found, claim = draft.evidence, draft.claim
    application, weighing = found.application, found.stated
    return {
        "shape": SHAPE,
        "product": application.product.name,
        "revision": application.revision.called,
        "state_of_part": application.revision.state,
        "stock": application.stock_revision.title,
        "vehicle": f"{application.vehicle.name} ({application.vehicle.years})",
        "headline": bands.headline(weighing),
        "margin": weighing.bands[0].margin_words,
        "sentences": list(draft.sentences),
        "statement": " ".join(draft.sentences),
        "facts": [fact.to_dict() for fact, _ in draft.said],
        "setting": vars(found.setting) | {"package": list(found.setting.package)},
        "lines": claim.lines,
        "joined": claim.joined,
        "description": claim.description,
        "figures": _figures(found),
        "locals": _locals(found),
        "gates": [vars(gate) for gate in draft.gates],
        "conditions": _conditions(draft),
        "differing": [vars(item) | {"reason": known_of(found, item)} for item in found.builds.differing],
        "correction": _figure(correction_of(found.session)),
        "approval": APPROVALS[application.approval],
        "approval_note": application.approval_note,
        "closed_course": application.approval == "closed_course",
        "cautions": list(CAUTIONS),
        "evidence": found.key,
    }


def _figures(found: Evidence) -> list[dict[str, Any]]:
    """The bands and peaks that a sheet shows; of a net the bands alone, as the ledger makes them."""
    if found.is_net and found.net is not None:
        made = net_figures(found.net)
        return [_figure(made[f"net-{item.name}"], item.verdict) for item in found.net.bands]
    comparison = found.weighing.comparison
    return [_figure(bands.judged_figure(j, comparison), j.verdict) for j in found.weighing.judged]


def _locals(found: Evidence) -> list[dict[str, Any]]:
    """The largest local differences as they were observed; of a net none, because their working is another."""
    weighing = found.weighing
    if found.is_net:
        return []
    pairs = zip(weighing.bands, weighing.locals, strict=True)
    return [_figure(bands.local_figure(x, weighing.comparison, f"local-{band.name}")) for band, x in pairs]


def known_of(found: Evidence, item: Differing) -> str:
    """Why a thing differed, and what is known of its effect, where its line of the ledger says so."""
    line = next((x for x in found.net.lines if x.line == item.line), None) if found.net is not None else None
    if line is None or line.kind == UNKNOWN or not item.reason:
        return item.reason
    return f"{item.reason}; {knowledge(line, found.weighing.comparison)}"


def digest(said: dict[str, Any]) -> str:
    """Identifies what a reader had before them."""
    return hashlib.sha256(json.dumps(said, sort_keys=True, default=str).encode()).hexdigest()


def with_picture(draft: Draft, said: dict[str, Any]) -> dict[str, Any]:
    """The sheet with A and B over speed drawn on it."""
    bands_here = bands_of(draft.evidence.application.vehicle)
    spec = charts.weigh_chart(draft.evidence.stated, bands_here, "us", "paper", width=715, brush=False)
    return {**said, "chart": spec, "svg": charts.to_svg(spec)}


def _figure(figure: Figure, verdict: str = "") -> dict[str, Any]:
    return {**figure.to_dict(), "verdict": verdict}


def _both(value: float, kind: str) -> str:
    return f"{units.show(value, kind, 'us')} ({units.show(value, kind, 'metric')})"


def _conditions(draft: Draft) -> list[list[str]]:
    found = draft.evidence
    session, card, comparison, builds = found.session, found.card, found.weighing.comparison, found.builds
    vehicle = found.application.vehicle.name + (f", {builds.vehicle}" if builds.vehicle else "")
    order = "A-B-A" if comparison.design.drift else "A and B, without a return to A"
    rows = [
        ["Measured on", f"{vehicle}; {card.dyno.name}, at the {card.dyno.measured_at}"],
        ["Date", f"{session.held_on.day} {session.held_on:%B %Y}"],
        ["Order", f"{order}; {comparison.count('A')} valid pulls of A, {comparison.count('B')} of B"],
        *_modes(found),
        *([["Stated", "net of what differed beside the part, line by line below"]] if found.is_net else []),
        ["Left out", "; ".join(_why(pull) for pull in found.left_out) or "no pull"],
        ["Other sessions", "; ".join(found.others) + ": not part of this" if found.others else "none"],
        *([["Bands of use", "changed after the pulls; the intervals hold for any band"]] if found.late_bands else []),
        ["Counted by hand", "; ".join(f"pull {p.sequence} ({p.label})" for p in found.overruled) or "no pull"],
        ["A", found.called[0]],
        ["B", found.called[1]],
        *([f"{label}, by its build sheet", text] for label, text in builds.parts),
        [
            "The same on both build sheets",
            "; ".join(f"{label}: {text}" for label, text in builds.same) or "nothing recorded",
        ],
        ["Not recorded", "; ".join(builds.silent) or "nothing"],
        [
            "Air",
            f"{_both(session.temperature, 'temperature')}, {_both(session.pressure, 'barometer')}, "
            f"{session.humidity:.0%} humidity",
        ],
        ["Correction", STANDARDS[session.standard].name + (" (in the files)" if session.already_corrected else "")],
    ]
    return [*rows, ["Gear", session.gear]] if session.gear else rows


def _modes(found: Evidence) -> list[list[str]]:
    card, rows = found.card, []
    if card.tune_mode:
        pair = card.pair_of(found.application.id)
        told = uneven_rounds([v.variant for v in card.variants if v.letter in pair], found.rounds)
        uneven = f"; tuning rounds: {told}" if told else ""
        rows.append(["Tune", TUNE_MODES[card.tune_mode] + uneven])
    if card.control_mode:
        rows.append(["Boost control", CONTROL_MODES[card.control_mode]])
    return rows


def _why(pull: Any) -> str:
    return f"pull {pull.sequence} ({pull.label}), " + (
        f"by hand: {pull.judgements[-1].reason}" if by_hand(pull) else "by its checks"
    )
