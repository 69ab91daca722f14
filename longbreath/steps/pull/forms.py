"""Forms of Pull."""

from __future__ import annotations

from wtforms import BooleanField, DateField, RadioField, SelectField, StringField
from wtforms.validators import DataRequired, InputRequired, Length, Optional

from longbreath.core.air.correction import STANDARDS
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
