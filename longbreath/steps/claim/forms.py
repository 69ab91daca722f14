"""Forms of Claim."""

from __future__ import annotations

from collections.abc import Sequence

from werkzeug.datastructures import MultiDict
from wtforms import (
    BooleanField,
    DateField,
    HiddenField,
    IntegerField,
    SelectField,
    SelectMultipleField,
    StringField,
    TextAreaField,
)
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional

from longbreath.core.case.changes import CAUSES
from longbreath.core.claim.gates.house import NOTES
from longbreath.core.claim.grammar import Composition, SheetLine
from longbreath.core.claim.road import APPROVALS, COVERS, TAMPERING
from longbreath.web.forms import BaseForm, QuantityField, options


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
    lines = (SheetLine(k, sent.get(f"phrasing-{k}", 0, int), f"short-{k}" in sent) for k in order)
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


class MilesForm(BaseForm):
    """What money is reckoned on."""

    distance = QuantityField("Distance a year", "distance", 1.0, 1e10)
    price = QuantityField("Price of a unit of fuel", "money", 0.001, 1e6, help="in the money of the house")
    sold_by = SelectField("Sold by the", choices=options([("L", "litre"), ("gal", "gallon")]))


class ActForm(BaseForm):
    """A button that does something to the claim that was shown; `read` identifies what was read, `words` is what is asked for."""

    read = HiddenField()
    words = StringField("What should change", [Optional(), Length(max=600)])
    code = StringField("One-time code", [Optional(), Length(max=12)])
    discloses = BooleanField("I have read what the bundle lets out")


class CommentForm(BaseForm):
    """Something said to a fact, or to all of the claim."""

    fact = HiddenField()
    words = StringField("Comment", [DataRequired("Write the comment."), Length(max=600)])


class WithdrawForm(BaseForm):
    """Why a claim is withdrawn."""

    reason = StringField("Reason", [DataRequired("Say why; the sheet will show it."), Length(max=300)])


class RoadForm(BaseForm):
    """Status of the part for road use on this vehicle."""

    tampering = SelectField("Emission devices", choices=options(TAMPERING.items()))
    approval = SelectField("Road use", choices=options(APPROVALS.items()))
    approval_note = StringField("Market in which none is required", [Optional(), Length(max=200)])


class CertificateForm(BaseForm):
    """One certificate."""

    kind = SelectField("Of", choices=options([("emissions", "emissions"), ("noise", "noise")]))
    number = StringField("Number", [DataRequired("A certificate has a number."), Length(max=80)])
    market = StringField("Market", [DataRequired("Name the market."), Length(max=80)])
    first_year = IntegerField("Model years from", [InputRequired("From which model year?")])
    last_year = IntegerField("to", [InputRequired("To which model year?")])
    until = DateField("Holds until", [Optional()], description="empty: no end is named")
    scope = StringField("Scope", [Optional(), Length(max=300)])
    forbids = StringField("What it forbids", [Optional(), Length(max=300)])
    document = StringField("Where the document is", [Optional(), Length(max=300)])


class VehicleForm(BaseForm):
    """One vehicle that the part is offered for."""

    make = StringField("Make", [DataRequired("Name the make."), Length(max=60)])
    model = StringField("Model", [DataRequired("Name the model."), Length(max=60)])
    first_year = IntegerField("Model years from", [InputRequired("From which model year?")])
    last_year = IntegerField("to", [InputRequired("To which model year?")])
    engine_code = StringField("Engine code", [DataRequired("Name the engine."), Length(max=40)])
    covers = SelectField("The evidence", choices=options(COVERS.items()))
    reason = StringField(
        "Reason", [Optional(), Length(max=300)], description="why it holds for a vehicle that was not tested"
    )


def _note(about: str) -> TextAreaField:
    words = {
        "sold": "which serials are sold in the state that was tested",
        "rules": "classes and series that allow or forbid it, or “not recorded”",
        "idle": "what it does to idle and cold start, and who says so, or “not recorded”",
        "noise": "what it does to noise, and who says so, or “not recorded”",
        "life": "wear, cleaning, known failures, and who says so, or “not recorded”",
        "relation": "who tested it, and what they are to the seller",
    }
    return TextAreaField(NOTES[about], [Length(max=400)], description=words[about])


class NotesForm(BaseForm):
    """What a sheet says of the part beside the facts."""

    sold, rules, idle = _note("sold"), _note("rules"), _note("idle")
    noise, life, relation = _note("noise"), _note("life"), _note("relation")


class RulesForm(BaseForm):
    """How the house lets claims out and takes them back."""

    house = StringField("Name of the house on its sheets", [Optional(), Length(max=80)])
    code_required = BooleanField("Approval asks for a one-time code")
    clock_days = IntegerField(
        "Days from a question to withdrawal by itself", [InputRequired("How many days?"), NumberRange(0, 365)]
    )
    at_once = SelectMultipleField("Withdraw at once when this changes", choices=options(CAUSES.items()))
    most_age = IntegerField(
        "Oldest evidence that is published, days", [InputRequired("How many days?"), NumberRange(30, 3650)]
    )
    retest_days = IntegerField("Test again after, days", [InputRequired("How many days?"), NumberRange(30, 3650)])
    raw_files = BooleanField("Bundles hold the raw files (else tables with the hashes of the files)")
    money = StringField("Name of the money of the house", [Optional(), Length(max=20)])
