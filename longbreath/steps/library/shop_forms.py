"""Forms of the shop's registers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from flask_wtf.file import FileField
from wtforms import BooleanField, DateField, FloatField, IntegerField, SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional

from longbreath.core.basis.errors import InputError
from longbreath.core.judge.health import KINDS
from longbreath.web.forms import BaseForm, QuantityField, options

GRADES = (("supplier", "a supplier’s test with data"), ("published", "a published table"), ("hearsay", "hearsay"))


def _text(label: str, needed: bool = True, **more: str) -> StringField:
    return StringField(label, [DataRequired("This is missing.") if needed else Optional(), Length(max=200)], **more)


class CellForm(BaseForm):
    """A cell with its opening hours and what an hour costs."""

    name = _text("Name")
    opens_at = _text("Opens at", description="08:00, local time")
    closes_at = _text("Closes at", description="17:00")
    days = _text("Days", description="by number, 1 for Monday: 12345")
    rate = FloatField("Money an hour", [Optional(), NumberRange(0, 1e6, "Nought or more.")])
    note = _text("Note", needed=False)

    def minutes(self, name: str) -> int:
        """A clock time as minutes after midnight. Raises InputError for what is none."""
        text = (getattr(self, name).data or "").strip()
        hours, _, rest = text.partition(":")
        if hours.isdigit() and (rest or "0").isdigit() and int(hours) <= 24 and int(rest or 0) < 60:
            return min(int(hours) * 60 + int(rest or 0), 1440)
        raise InputError(f"“{text}” is no time of day: write 08:00.", name)


class EngineForm(BaseForm):
    """A test engine: what it is made of and how it turns."""

    serial = _text("Serial number")
    what = _text("Which engine it is", needed=False)
    repairs = _text("Repairs of the block", needed=False)
    ring_gaps = _text("Ring gaps", needed=False)
    gaskets = _text("Gaskets", needed=False)
    breakaway = QuantityField("Torque that starts it turning", "torque", 0.0, 1e4, required=False)
    running = QuantityField("Torque that keeps it turning", "torque", 0.0, 1e4, required=False)
    note = _text("Note", needed=False)


class MoveForm(BaseForm):
    """Where a test engine goes, and when."""

    vehicle_id = SelectField("Into", coerce=int)
    since = DateField("Since", [InputRequired("On which day?")])


class TuneForm(BaseForm):
    """A tune and what it was made for."""

    name = _text("Identity")
    author = _text("Author")
    file = FileField("Its file: hashed, not kept")
    sensors = _text("Pressure sensor it expects", needed=False, description="in the words of the build sheet")
    injectors = _text("Injectors it expects", needed=False)
    runner_valves = _text("Runner valves it drives", needed=False)
    mixture_target = QuantityField("λ under full load", "ratio", 0.5, 1.6, required=False)
    note = _text("Note", needed=False)


class FuelForm(BaseForm):
    """A delivery of fuel."""

    name = _text("Batch")
    grade = _text("Grade")
    delivered_on = DateField("Delivered", [InputRequired("On which day?")])
    density = QuantityField("Density", "density", 500.0, 1200.0, required=False)
    note = _text("Note", needed=False)


class SensorForm(BaseForm):
    """A sensor with its range; a bare number is in the unit of pressure."""

    name = _text("Name")
    measures = _text("Measures", description="manifold pressure, back pressure")
    low = QuantityField("Range from", "pressure")
    high = QuantityField("to", "pressure")
    is_absolute = BooleanField("Absolute: it reads the air around as well")
    due_on = DateField("Calibration lapses", [Optional()])
    note = _text("Note", needed=False)


class SampleForm(BaseForm):
    """One piece of a part."""

    revision_id = SelectField("Part", coerce=int)
    serial = _text("Number")
    state = _text("State", needed=False)
    place = _text("Where it lies", needed=False)
    note = _text("Note", needed=False)


class ChecklistForm(BaseForm):
    """The lines of a list."""

    family = _text("Family of part", description="turbocharger, manifold …; “every” stands for all")
    text = TextAreaField("Lines, one each", [DataRequired("A list has a line at least."), Length(max=5000)])


class TableForm(BaseForm):
    """Somebody else's test as a table."""

    name = _text("Name")
    source = _text("Where it stands")
    grade = SelectField("What it is", choices=options(GRADES))
    test_bed = _text("On what it was tested")
    interest = _text("What the source gains by it", description="sells the part; none known")
    quantity = SelectField("Its values are", choices=options([("torque", "torque"), ("power", "power")]))
    names = _text("Names of the curves", description="separated by semicolons: stock; part")
    text = TextAreaField(
        "Rows",
        [DataRequired("Type the rows."), Length(max=20000)],
        description="one a line: speed, then a value for each curve",
    )


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
