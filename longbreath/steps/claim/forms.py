"""Forms of Claim."""

from __future__ import annotations

from collections.abc import Sequence

from werkzeug.datastructures import MultiDict
from wtforms import BooleanField, HiddenField, SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, Length, Optional

from longbreath.core.claim.gates import APPROVALS
from longbreath.core.claim.grammar import Composition, Line
from longbreath.web.forms import BaseForm, options


class ClaimForm(BaseForm):
    """What the writer chooses; the facts' own fields are read by `chosen`."""

    joined = BooleanField("as one sentence")
    description = TextAreaField(
        "Description of the part",
        [Optional(), Length(max=1200)],
        description="What it is, made of, how it fits. It stands apart and holds no numbers, units or comparisons.",
    )


MOVES = ("up", "down", "out", "in")


def chosen(sent: MultiDict[str, str]) -> Composition:
    """The composition in a sent form, after the move its button asks for ("up:…", "down:…", "out:…", "in:…")."""
    order = list(dict.fromkeys(sent.getlist("fact")))
    move, _, key = sent.get("do", "").partition(":")
    order = moved(order, move, key) if move in MOVES else order
    lines = (Line(k, sent.get(f"phrasing-{k}", 0, int), f"short-{k}" in sent) for k in order)
    return Composition(tuple(lines), "joined" in sent)


def moved(order: Sequence[str], move: str, key: str) -> list[str]:
    """An order of facts with one of them moved, taken out, or added at the end."""
    rest = [k for k in order if k != key]
    if move == "in":
        return [*rest, key]
    if move == "out" or key not in order:
        return rest
    place = list(order).index(key) + (-1 if move == "up" else 1)
    return [*rest[: max(place, 0)], key, *rest[max(place, 0) :]]


class ApprovalForm(BaseForm):
    """Status of the part for road use on this vehicle."""

    approval = SelectField("Road use", choices=options(APPROVALS.items()))
    approval_note = StringField("Certificate or market", [Optional(), Length(max=200)])


class ActForm(BaseForm):
    """A button that does something to the claim that was shown; `read` identifies what was read."""

    read = HiddenField()


class WithdrawForm(BaseForm):
    """Why a claim is withdrawn."""

    reason = StringField("Reason", [DataRequired("Say why; the sheet will show it."), Length(max=300)])
