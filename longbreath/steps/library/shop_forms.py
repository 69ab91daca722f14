"""Forms of the shop beside its registers: a pasted table, where an engine goes, a dyno, health, a person."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from wtforms import BooleanField, DateField, FloatField, IntegerField, SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional

from longbreath.core.judge.health import KINDS
from longbreath.web.forms import BaseForm, QuantityField, options


def _text(label: str, needed: bool = True, **more: str) -> StringField:
    return StringField(label, [DataRequired("This is missing.") if needed else Optional(), Length(max=200)], **more)


class MoveForm(BaseForm):
    """Where a test engine goes, and when."""

    vehicle_id = SelectField("Into", coerce=int)
    since = DateField("Since", [InputRequired("On which day?")])


class PasteForm(BaseForm):
    """A table that was pasted."""

    table = TextAreaField("The table", [DataRequired("Paste the table."), Length(max=100000)])


class DynoMore(BaseForm):
    """What a dyno is, beside where it measures and how it repeats."""

    kind = SelectField(
        "Kind",
        choices=options(
            [("", "not said"), *((k, k) for k in ("roller inertia", "roller with brake", "hub", "engine"))]
        ),
    )
    channels = _text("Logs beside speed and torque", needed=False)
    calibrated_on = DateField("Calibrated", [Optional()])
    calibration_due = DateField("Calibration lapses", [Optional()])
    cell_id = SelectField("Stands in", coerce=int)
    roller_inertia = QuantityField(
        "Inertia of the rollers",
        "inertia",
        1e-3,
        1e4,
        required=False,
        help="with all that turns with them; torque is made from it where only speeds are logged",
    )
    roller_radius = QuantityField("Radius of the rollers", "length", 0.02, 3.0, required=False)
    device_url = SelectField("It answers live at")
    logger_url = SelectField("The logger beside it")
    weather_url = SelectField("The weather station of its cell")
    fitting_repeatability = QuantityField(
        "Set to set, the part off and on again", "torque", 1e-6, 1000, False, help="standard deviation, if it was tried"
    )
    fitting_freedom = IntegerField("Sets behind that, less one", [Optional(), NumberRange(0, 200)], default=0)

    def offer(self, addresses: Mapping[str, Sequence[str]]) -> None:
        """Offer the addresses that are listed, by kind of device, and the one that is kept."""
        for field, kind in ((self.device_url, "dyno"), (self.logger_url, "logger"), (self.weather_url, "weather")):
            kept = field.object_data or ""
            offered = [*addresses[kind], *([kept] if kept and kept not in addresses[kind] else [])]
            field.choices = options([("", "none: logs are taken in as files"), *((a, a) for a in offered)])


class HealthForm(BaseForm):
    """One look at an engine, or what was done to it."""

    held_on = DateField("Date", [InputRequired("Write a date like 2026-05-14.")])
    kind = SelectField("What", choices=options([(k.key, k.name) for k in KINDS.values()]))
    figures = StringField(
        "Figures",
        [Optional(), Length(max=200)],
        description="one a cylinder, apart by semicolons: 12.4 bar; 12.1 bar … Leave empty where words say it.",
        render_kw={"data-dimension": "any", "data-list": "semicolon"},
    )
    words = StringField("In words", [Optional(), Length(max=300)])
    finding = BooleanField("It is a finding, whatever the figures say")


class PersonMore(BaseForm):
    """What a person can do, and what an hour of their work costs."""

    skills = _text("Can do", needed=False, description="dyno, bench, tuning, welding")
    rate = FloatField("Money an hour", [Optional(), NumberRange(0, 1e6, "Nought or more.")])
