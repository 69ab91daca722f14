"""Views of Practice: scores, a round to judge, what it was and what the software says."""

from __future__ import annotations

import json
import secrets
import time
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np
from flask import abort, redirect, url_for
from wtforms import RadioField
from wtforms.validators import InputRequired

from longbreath.core.basis import units
from longbreath.dossier import practice
from longbreath.dossier import practice_pictures as pictures
from longbreath.drawing.cellview import Scale, cell_svg
from longbreath.web.forms import BaseForm, options, system
from longbreath.web.guard import user
from longbreath.web.lines import seated
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db

LARGEST_SEED = 10**8
PACE = 2.5
"""Seconds of the engine in a second of the replay."""
STEP = 0.06
SHOWN = (
    "mixture",
    "manifold_pressure",
    "controller_duty",
    "roller_speed",
    "knock",
    "fuel_pressure",
    "exhaust",
    "battery",
    "coolant",
)
"""Channels that a learner can look at, beside torque."""
FIGURES = (
    ("speed", "speed"),
    ("torque", "torque"),
    ("mixture", "ratio"),
    ("manifold_pressure", "pressure"),
    ("coolant", "temperature"),
)
ON_PAGE = {"manifold_pressure": "manifold"}


class AnswerForm(BaseForm):
    """What the learner says of a round."""

    said = RadioField("What do you say?", [InputRequired("Say whether it counts, or what is wrong.")])


def overview() -> Any:
    """How a person does, and another round."""
    desks = {desk: practice.scores(db(), user().id, desk) for desk in practice.FAULTS}
    return page(
        "practice/overview.html", desks=desks, course=practice.course_of(db(), user().id), called=practice.FAULTS
    )


def new_round(desk: str) -> Any:
    """A round by lot."""
    if desk not in practice.FAULTS:
        abort(404)
    return redirect(url_for("practice.practice_round", desk=desk, seed=secrets.randbelow(LARGEST_SEED)))


def practice_round(desk: str, seed: int) -> Any:
    """A round to judge; once it is judged, what it was."""
    if desk not in practice.FAULTS or seed >= LARGEST_SEED:
        abort(404)
    form = AnswerForm()
    form.said.choices = options(list(practice.FAULTS[desk].items()))
    saved = save(form, None, lambda: practice.answer(db(), desk, seed, form.said.data or ""))
    if saved.done:
        return redirect(url_for("practice.practice_round", desk=desk, seed=seed))
    told = practice.round_of(db(), desk, seed)
    shown = _cell(seed, told is not None) if desk == practice.CELL else _bench(seed)
    return page(
        f"practice/{desk}.html",
        form=form,
        seed=seed,
        desk=desk,
        told=told,
        called=practice.FAULTS[desk],
        status=saved.status,
        conflict=saved.conflict,
        **shown,
    )


def _cell(seed: int, is_told: bool) -> dict[str, Any]:
    found = practice.cell_round(seed)
    scale, speeds, drawn = pictures.round_picture(found, system())
    own = replace(pictures.drawn_of(found.sweep, speeds, system()), counts=found.is_valid, is_last=True)
    pulls = (*drawn, own) if is_told else drawn
    symbol = units.kind_named("torque").symbol(system())
    return {
        "round": found,
        "picture": cell_svg(scale, speeds, pulls, "A", symbol),
        "scale": ",".join(f"{v:g}" for v in (scale.low, scale.high, scale.bottom, scale.top)),
        "channels": [
            pictures.round_channel(found, name, system()) for name in ("torque", *SHOWN) if name in found.sweep.channels
        ],
        "before": practice.BEFORE,
    }


def _bench(seed: int) -> dict[str, Any]:
    found = practice.bench_round(seed)
    last = found.moments[-1]
    return {
        "round": found,
        "last": last,
        "share": found.share,
        "asked": practice.ASKED,
        "rows": found.moments[-1::-6][:6],
    }


def replay(seed: int) -> Any:
    """The pull of a round as if it were live, as server-sent events."""
    found = practice.cell_round(seed)
    scale, _, _ = pictures.round_picture(found, system())
    return seated(_events(found, scale, system()))


def _events(found: practice.CellRound, scale: Scale, shown_in: str) -> Iterator[str]:
    channels = found.sweep.channels
    time_of = channels["time"] - channels["time"][0]
    sent, began = 0, time.monotonic()
    frame = {
        "lines": {"dyno": {"state": "live", "words": "", "stand_in": False}},
        "turn": 0,
        "line": "",
        "phase": "pulling",
    }
    while sent < time_of.size:
        until = int(np.searchsorted(time_of, (time.monotonic() - began) * PACE))
        if until > sent:
            row = until - 1
            figures = {
                ON_PAGE.get(name, name): units.show(float(channels[name][row]), kind, shown_in, None)
                for name, kind in FIGURES
                if name in channels
            }
            points = pictures.points_of(found, scale, sent, until, shown_in)
            told = {**frame, "figures": figures, "points": points, "begins": sent == 0}
            yield f"data: {json.dumps(told, ensure_ascii=False)}\n\n"
            sent = until
        time.sleep(STEP)
    yield f"data: {json.dumps({**frame, 'phase': 'idle', 'figures': {}, 'over': True})}\n\n"
