"""The sheet of a claim: everything it shows, frozen when it is published. It never reads the working records again."""

from __future__ import annotations

import hashlib
import json
from datetime import timedelta
from typing import Any

from longbreath.core.basis.working import Figure
from longbreath.core.claim.kinds.register import KINDS
from longbreath.core.claim.methods import version_of
from longbreath.dossier.claim.reads import Draft, notes_said

SHAPE = 3
"""The version of a sheet's shape: 1 held words that somebody typed, 2 holds facts of torque, 3 facts of any kind, with what stands
around them."""
CAUTIONS = (
    "Measured on one vehicle in the state described. Another vehicle, state of tune, fuel or dyno can differ.",
    "Fitting and testing intake and exhaust parts can injure: hot parts, rotating parts, fuel vapour, carbon monoxide. "
    "Local codes and licensed practice decide.",
)
HEADLINE = "What was found stands below, with its conditions."


def content(draft: Draft) -> dict[str, Any]:
    """What the sheet of a draft would say now, without its picture."""
    found, claim, around = draft.backing, draft.claim, draft.around
    application, told = found.application, found.told
    return {
        "shape": SHAPE,
        "kind": found.kind,
        "kind_title": KINDS[found.kind].title,
        "never": list(KINDS[found.kind].never),
        "product": application.product.name,
        "revision": application.revision.called,
        "state_of_part": application.revision.state,
        "stock": application.stock_revision.title,
        "vehicle": f"{application.vehicle.name} ({application.vehicle.years})",
        "headline": told.headline or HEADLINE,
        "margin": told.margin,
        "sentences": list(draft.sentences),
        "statement": " ".join(draft.sentences),
        "facts": [fact.to_dict() for fact, _ in draft.said],
        "setting": vars(found.setting) | {"package": list(found.setting.package), "told": list(found.setting.told)},
        "lines": claim.lines,
        "joined": claim.joined,
        "description": claim.description,
        "figures": [_figure(figure, verdict) for figure, verdict in told.figures],
        "locals": [_figure(figure) for figure in told.minor],
        "gates": [{"key": g.key, "name": g.name, "met": g.met, "evidence": g.evidence} for g in draft.gates],
        "conditions": [list(row) for row in told.conditions],
        "differing": [vars(item) for item in told.differing],
        "correction": _figure(told.correction) if told.correction is not None else None,
        "approval": around.road.words,
        "approval_note": application.approval_note,
        "closed_course": around.road.status == "closed_course",
        "certificates": [held.words for held in around.road.in_date],
        "covered": [vehicle.words for vehicle in around.covered],
        "notes": [list(row) for row in notes_said(around)],
        "costs": list(around.beside.costs(draft.backing.kind)),
        "cautions": list(CAUTIONS),
        "evidence": draft.key,
        "rests_on": dict(draft.rests_on),
        "method": version_of(found.kind),
        "held_on": found.held_on.isoformat(),
        "retest_on": (draft.day + timedelta(days=around.rules.retest_days)).isoformat(),
        "house": around.rules.house,
    }


def digest(said: dict[str, Any]) -> str:
    """Identifies what a reader had before them."""
    return hashlib.sha256(json.dumps(said, sort_keys=True, default=str).encode()).hexdigest()


def with_picture(draft: Draft, said: dict[str, Any]) -> dict[str, Any]:
    """The sheet with its picture, where its kind has one."""
    draw = draft.backing.told.picture
    return {**said, "svg": draw() if draw is not None else ""}


def _figure(figure: Figure, verdict: str = "") -> dict[str, Any]:
    return {**figure.to_dict(), "verdict": verdict}
