"""Forms of the bench."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from wtforms import DateField, HiddenField, SelectField, StringField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional, ValidationError

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.web.forms import BaseForm, CountField, QuantityField, options

SWEEP_OR_FIXED = options([("sweep", "a sweep over valve lift"), ("fixed", "a fixed part, read at one point")])


class BenchSessionForm(BaseForm):
    """One set-up of a flow bench."""

    bench_id = SelectField("Bench", coerce=int)
    held_on = DateField("Date", [InputRequired("Write a date like 2026-05-14.")])
    test_pressure = QuantityField("Test pressure", "column", 100, 30000)
    temperature = QuantityField("Air temperature", "temperature", 223, 333)
    pressure = QuantityField("Air pressure (station)", "barometer", 50e3, 115e3)
    humidity = QuantityField("Relative humidity", "percent", 0, 1)
    meter_temperature = QuantityField(
        "Air before the meter",
        "temperature",
        223,
        373,
        required=False,
        help="empty: as the room; a live bench sends it",
    )
    leak_range_id = SelectField("Leak read on range", coerce=int)
    leak_percent = QuantityField("Leak reading", "percent", 0, 1, required=False, help="with the valves shut")
    leak_flow = QuantityField("or leak as a flow", "flow", 0, 1, required=False)
    leak_pressure = QuantityField("Leak read at", "column", 1, 30000)


class FixtureForm(BaseForm):
    """What the part sits on."""

    direction = SelectField(
        "Air goes", choices=options([("intake", "in, through the intake"), ("exhaust", "out, through the exhaust")])
    )
    port = StringField(
        "Port or runner", [DataRequired("Say which port."), Length(max=80)], description="cylinder 2, runner 3 …"
    )
    mouth = StringField(
        "Mouth",
        [DataRequired("Say how the mouth is dressed, or “nothing”."), Length(max=80)],
        description="radius plate, clay, bellmouth, nothing",
    )
    outlet = StringField("Outlet", [Optional(), Length(max=80)], description="pipe stub 38 mm, or nothing")
    bore = QuantityField("Bore adapter", "length", 0.005, 0.5, required=False)
    valves = CountField("Valves of the port", [Optional(), NumberRange(1, 4, "From 1 to 4.")])
    valve_diameter = QuantityField("Valve head", "length", 0.003, 0.2, required=False)
    throat_diameter = QuantityField("Throat under the seat", "length", 0.003, 0.2, required=False)
    stem_diameter = QuantityField("Valve stem", "length", 0.001, 0.05, required=False)
    note = StringField("Note", [Optional(), Length(max=300)], description="what else is bolted on or held open")


class SetUpForm(BenchSessionForm, FixtureForm):
    """A new session with its first fixture and the traces of A and of B."""

    fixture_id = SelectField("Fixture", coerce=int)
    kind = SelectField("What is read", choices=SWEEP_OR_FIXED)

    def validate(self, extra_validators: Any = None) -> bool:
        """A fixture that was chosen needs no description."""
        if self.fixture_id.data:
            self.port.validators = self.mouth.validators = (Optional(),)
        return bool(super().validate(extra_validators))


class TraceForm(BaseForm):
    """One further part to sweep or read in a session."""

    label = SelectField("It is")
    title = StringField(
        "Name", [DataRequired("This is missing."), Length(max=120)], description="as it will stand beside its curve"
    )
    kind = SelectField("What is read", choices=SWEEP_OR_FIXED)
    runner = StringField("Runner", [Optional(), Length(max=40)], description="of a fixed part with several: 1, 2, 3 …")
    stack = StringField("Bolted together", [Optional(), Length(max=160)], description="head + manifold + throttle")
    fixture_id = SelectField("Fixture", coerce=int)
    ladder = StringField("Lifts planned", [Optional(), Length(max=300)], description="for example “1, 2, 3, 4 mm”")

    def lifts(self) -> list[float]:
        """The planned lifts [m]. Raises InputError beside the field."""
        text = (self.ladder.data or "").strip()
        if not text:
            return []
        system = self.units.data or "metric"
        try:
            found = _lifts([p for p in re.split(r"[;,]\s*|(?<=\d)\s+(?=\d)", text) if p.strip()], system)
        except InputError as error:
            raise InputError(error.message, "ladder") from None
        if not all(0 < lift <= 0.05 for lift in found):
            raise InputError("A lift lies between nought and 50 mm.", "ladder")
        return sorted({round(lift, 7) for lift in found})


def _lifts(parts: list[str], system: str) -> list[float]:
    """Lifts [m], each with the unit that stands with it or with the last one."""
    _, last = units.read_number(parts[-1], "length")
    found = []
    for part in parts:
        number, own = units.read_number(part, "length")
        found.append(units.parse(f"{number} {own.strip() or last.strip()}", "length", system).value)
    return found


class ReadingForm(BaseForm):
    """One point by hand: lift, then range and percentage, a flow, or a drop; and the pressure it was read at."""

    lift = QuantityField("Lift", "length", 0, 0.05)
    range_id = SelectField("Range", coerce=int)
    percent = QuantityField("Percentage", "percent", 0, 1, required=False)
    direct_flow = QuantityField("or flow", "flow", 0, 10, required=False)
    meter_drop = QuantityField("or drop", "column", 0, 30000, required=False)
    pressure = QuantityField("Read at", "column", 1, 30000)


class CaptureForm(BaseForm):
    """One press of the capture key: the lift, a key of its own so that one press is one reading, and “take it anyway”."""

    lift = QuantityField("Lift", "length", 0, 0.05)
    capture_key = HiddenField(validators=[Optional(), Length(max=64)])
    anyway = HiddenField()


class ReasonForm(BaseForm):
    """Why something is taken out."""

    reason = StringField("Reason", [DataRequired("Say why; it stays in the record."), Length(max=300)])


class ExcludeForm(ReasonForm):
    """Which reading of a lift is taken out, where there are several, and why."""

    which = SelectField("Which reading", coerce=int)

    def offer(self, readings: Sequence[tuple[int, str]]) -> None:
        """Offer readings, by number and in words; of several none is chosen beforehand."""
        self.which.choices = options([(0, "choose which"), *readings] if len(readings) > 1 else readings)
        if len(readings) == 1:
            self.which.data = readings[0][0]

    def validate_which(self, field: SelectField) -> None:
        """One of the readings."""
        if not field.data:
            raise ValidationError("Several were taken here: choose the one that comes out.")
