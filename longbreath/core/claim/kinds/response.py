"""Response: how early and how fast boost came, and the area under torque while it did; from the same pulls as torque."""

from __future__ import annotations

from collections.abc import Sequence

from longbreath.core.basis.quantiles import t_at
from longbreath.core.claim.facts import GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN, PLACE, Fact, Setting
from longbreath.core.claim.kinds.kind import ClaimKind, Quantity, on_the_vehicle, plain
from longbreath.core.claim.kinds.power import measured
from longbreath.core.weigh.response import ResponseJudged

FIRST = "speed at 90% of the boost"
"""The quantity that is looked at before any other."""
QUANTITIES = {"speed": "response_speed", "time": "response_time", "impulse": "response_area"}
VERDICTS = {"sooner": GAIN, "later": LOSS, "more": GAIN, "less": LOSS, NO_DIFFERENCE: NO_DIFFERENCE}


def facts_of(judged: Sequence[ResponseJudged]) -> tuple[Fact, ...]:
    """What a comparison of response holds; a proven delay must be said.

    The speed at which most of the boost stands is looked at first, whatever comes out; the other quantities share one error, since
    whichever came out best may be picked after looking. Source: Bonferroni.
    """
    known = [item for item in judged if item.effect.standard_error > 0.0]
    others = max(len(known) - 1, 1)
    found = []
    for item in known:
        effect, kind = item.effect, VERDICTS.get(item.verdict, NOT_PROVEN)
        share = 1 if item.name == FIRST else others
        half = max(
            effect.half_width, t_at(1.0 - (1.0 - item.confidence) / (2 * share), effect.df) * effect.standard_error
        )
        if kind in (GAIN, LOSS) and abs(effect.value) <= half:
            kind = NOT_PROVEN
        quantity = QUANTITIES[item.kind]
        found.append(Fact(kind, quantity, PLACE, 0.0, 0.0, effect.value, half, item.name, required=kind == LOSS))
    return tuple(sorted(found, key=lambda f: (f.kind != GAIN, f.kind != LOSS)))


def _words(better: tuple[str, str], worse: tuple[str, str]) -> dict[str, tuple[str, ...]]:
    return {
        GAIN: better,
        LOSS: worse,
        NO_DIFFERENCE: ("made no meaningful difference in the {what}",),
        NOT_PROVEN: ("showed no proven difference in the {what}", "left a difference in the {what} unproven"),
    }


_EARLIER = _words(
    ("brought the {what} {size} earlier", "was {size} earlier in the {what}"),
    ("put the {what} {size} later", "was {size} later in the {what}"),
)
_SHORTER = _words(
    ("took {size} less in the {what}", "shortened the {what} by {size}"),
    ("took {size} more in the {what}", "lengthened the {what} by {size}"),
)
_MORE = _words(
    ("gained {size} of {what}", "made {size} more {what}"), ("lost {size} of {what}", "made {size} less {what}")
)


def _measured(setting: Setting) -> str:
    return f"{measured(setting)[:-1]}, in full-load pulls: a launch in traffic is another thing."


KIND = ClaimKind(
    "response",
    "Response",
    "Pulls with manifold pressure logged: speed and time to shares of the boost both reach, area under torque meanwhile.",
    ("“no lag”, or a time that no clock of the pulls holds", "response of another gear, load or control setting"),
    (
        Quantity("response_speed", "speed", _EARLIER, plain, less_is_better=True),
        Quantity("response_time", "time", _SHORTER, plain, less_is_better=True),
        Quantity("response_area", "impulse", _MORE, plain),
    ),
    on_the_vehicle,
    _measured,
)
