"""Forms of the programme."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from wtforms import DateField, FloatField, SelectField, SelectMultipleField, StringField
from wtforms.validators import DataRequired, Length, NumberRange, Optional

from longbreath.core.basis.errors import InputError
from longbreath.dossier.programme.register import KIND_WORDS
from longbreath.web.addresses import house_zone
from longbreath.web.forms import BaseForm, options

CLOCK = "%Y-%m-%d %H:%M"


class OwedForm(BaseForm):
    """A thing owed: what, who, by when, what it waits for."""

    kind = SelectField("It is", choices=options(KIND_WORDS.items()))
    what = StringField("What is owed", [DataRequired("Say what is owed."), Length(max=300)])
    application_id = SelectField("For", coerce=int)
    who_id = SelectField("Who, here", coerce=int)
    outside = StringField("Who, outside the house", [Length(max=120)])
    due_on = DateField("By, or comes on", [Optional()])
    not_before = DateField("Not before", [Optional()])
    hours = FloatField("Hours of work", [Optional(), NumberRange(0, 1000, "From 0 to 1,000.")])
    cost = FloatField("Other cost", [Optional(), NumberRange(0, 1e7, "Nought or more.")])
    cell_id = SelectField("Cell", coerce=int)
    slot_at = StringField("Booked for", [Length(max=20)], description="day and time: 2026-05-14 09:00")
    blocks = StringField("What waits for it", [Length(max=200)])
    waits_for = SelectMultipleField("It waits for", coerce=int)

    def slot(self) -> datetime | None:
        """The booked beginning as a moment. Raises InputError for what is no day and time."""
        text = (self.slot_at.data or "").strip().replace("T", " ")
        if not text:
            return None
        try:
            return datetime.strptime(text, CLOCK).replace(tzinfo=house_zone()).astimezone(UTC)
        except ValueError:
            raise InputError(f"“{text}” is no day and time: write 2026-05-14 09:00.", "slot_at") from None

    def begin(self, thing: Any, waits: list[int]) -> None:
        """Fill an empty form with a thing."""
        self.waits_for.data = waits
        if thing is not None and thing.slot is not None:
            self.slot_at.data = thing.slot.astimezone(house_zone()).strftime(CLOCK)


class CloseForm(BaseForm):
    """What closed a thing."""

    closed_with = StringField("What closed it", [DataRequired("Say what closed it."), Length(max=300)])
