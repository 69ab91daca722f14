"""Forms of Pull."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy.orm import Session
from wtforms import BooleanField, DateField, HiddenField, RadioField, SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, InputRequired, Length, Optional

from longbreath.core.air.correction import STANDARDS
from longbreath.core.case.conditions import ASKED
from longbreath.core.tune.tuning import KINDS as ROUND_KINDS
from longbreath.dossier.pull import conditions
from longbreath.dossier.pull.closing import ClosingCard, Missing
from longbreath.formats.mapping import Sought
from longbreath.formats.sought import FIRST
from longbreath.store.models import DynoSession
from longbreath.web.forms import BaseForm, QuantityField, options


class DynoSessionForm(BaseForm):
    """A visit to the dyno."""

    held_on = DateField("Date", [InputRequired("Write a date like 2026-05-14.")])
    temperature = QuantityField("Air temperature", "temperature", 223, 333)
    pressure = QuantityField(
        "Station pressure", "barometer", 50e3, 115e3, help="as read there, not reduced to sea level"
    )
    humidity = QuantityField("Relative humidity", "percent", 0, 1)
    standard = SelectField("Correction", choices=options([(s.key, s.name) for s in STANDARDS.values()]))
    already_corrected = BooleanField("The files already carry figures corrected by this standard")
    engine_id = SelectField("Test engine", coerce=lambda text: int(text) or None, default=0)
    fuel_id = SelectField("Fuel batch", coerce=lambda text: int(text) or None, default=0)
    gear = StringField("Gear, and anything else of the day", [Optional(), Length(max=200)])


class JudgeForm(BaseForm):
    """Whether a pull counts, and why."""

    counts = RadioField("This pull", choices=options([("yes", "counts"), ("no", "does not count")]))
    reason = StringField("Reason", [DataRequired("Say why; it stays in the record."), Length(max=300)])


class SecondForm(BaseForm):
    """What a second person says of a pull without knowing what it shows."""

    judgement = HiddenField()
    counts = RadioField(
        "This pull",
        [InputRequired("Say one or the other.")],
        choices=options([("yes", "should count"), ("no", "should not count")]),
    )
    reason = StringField("Reason", [DataRequired("Say why; it stays in the record."), Length(max=300)])


class CorrectForm(BaseForm):
    """Why a source is read anew."""

    why = StringField("Why", [DataRequired("Say what was wrong; it stays in the record."), Length(max=200)])


class TypedForm(BaseForm):
    """Figures from a sheet of paper."""

    label = SelectField("It is a pull of")
    source = StringField(
        "Where it stands", [DataRequired("Say which sheet, photo or table it was typed from."), Length(max=160)]
    )
    rows = TextAreaField(
        "Speed, torque, power",
        [DataRequired("Type at least one line.")],
        description="One line a speed, two spaces apart, “-” for none. Peaks alone are two lines.",
    )


class ConditionsForm(BaseForm):
    """What no log states, one field for each condition of each letter."""

    def given(self) -> dict[tuple[str, str], str]:
        """What was written, by letter and name."""
        found = {}
        for field in self:
            name, dash, letter = field.name.partition("-")
            if dash and name in ASKED:
                found[letter, name] = field.data or ""
        return found


def conditions_form(session: DynoSession, db: Session) -> ConditionsForm:
    """The form with a field for each condition of each letter that was pulled."""
    letters = [v for v in session.card.letters if any(p.label == v for p in session.full_pulls)]
    fields = {
        f"{name}-{letter}": StringField(f"{label}, {letter}", [Optional(), Length(max=200)])
        for name, label in ASKED.items()
        for letter in letters
    }
    made: type[ConditionsForm] = type("ConditionsOfSession", (ConditionsForm,), fields)
    said = {f"{name}-{letter}": conditions.said_of(db, session, letter, name) for name in ASKED for letter in letters}
    return made(data=said)


def shown_channels(sought: tuple[Sought, ...], chosen: Mapping[str, Any], which: str) -> list[Sought]:
    """The channels that are asked for in any log (first), the others that were found (found), or those that were not (other)."""
    return [s for s in sought if which == ("first" if s.name in FIRST else "found" if s.name in chosen else "other")]


class RoundForm(BaseForm):
    """One round of tuning."""

    label = SelectField("On variant")
    kind = SelectField("What was changed", choices=options(list(ROUND_KINDS.items())))
    words = StringField(
        "In words", [Optional(), Length(max=200)], description="ignition, map, or whatever a figure does not say"
    )
    jet_before = QuantityField("Jet before", "length", 1e-5, 0.02, required=False)
    jet_after = QuantityField("Jet now", "length", 1e-5, 0.02, required=False)
    time_before = QuantityField("Injector time before", "dead_time", 1e-5, 0.1, required=False)
    time_after = QuantityField("Injector time now", "dead_time", 1e-5, 0.1, required=False)
    dead_time = QuantityField("Dead time of the injector", "dead_time", 0.0, 0.01, required=False)
    ratio_before = QuantityField("Air to fuel at λ = 1, before", "ratio", 3.0, 40.0, required=False)
    ratio_after = QuantityField("Air to fuel at λ = 1, now", "ratio", 3.0, 40.0, required=False)
    density_before = QuantityField("Density of the fuel before", "density", 400.0, 1200.0, required=False)
    density_after = QuantityField("Density of the fuel now", "density", 400.0, 1200.0, required=False)
    fuel_id = SelectField("Fuel batch now", coerce=lambda text: int(text) or None, default=0)


class ClosingForm(BaseForm):
    """Reasons for what is missing, one field each; who owes it, and by when."""

    every = StringField("The same reason for all that have none", [Optional(), Length(max=300)])
    who_id = SelectField("Owed by", coerce=int)
    due_on = DateField("By", [Optional()])

    def card(self) -> ClosingCard:
        """What was written."""
        told = self.every.data or ""
        reasons = {f.name.removeprefix("reason-"): f.data or told for f in self if f.name.startswith("reason-")}
        return ClosingCard(reasons, self.who_id.data, self.due_on.data)


def closing_form(missing: Sequence[Missing], people: Sequence[tuple[int, str]], me: int) -> ClosingForm:
    """The form with a field for each thing that is missing."""
    fields = {f"reason-{thing.key}": StringField(thing.words, [Optional(), Length(max=300)]) for thing in missing}
    made: type[ClosingForm] = type("ClosingOfSession", (ClosingForm,), fields)
    form = made()
    form.who_id.choices = options(list(people))
    if not form.is_submitted():
        form.who_id.data = me
    return form
