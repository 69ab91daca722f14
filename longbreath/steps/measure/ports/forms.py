"""Forms of ports."""

from __future__ import annotations

import re

from wtforms import DateField, HiddenField, RadioField, SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.web.forms import BaseForm, CountField, QuantityField, options, traced_points

SHAPES = (("round", "round"), ("rounded_rectangle", "rounded rectangle"), ("outline", "traced outline"))


class TraverseForm(BaseForm):
    """A face to walk over with the pitot."""

    title = StringField(
        "Name", [DataRequired("This is missing."), Length(max=120)], description="which port, which state of work"
    )
    held_on = DateField("Date", [InputRequired("Write a date like 2026-05-14.")])
    lift = QuantityField("Lift", "length", 0, 0.05, help="0 where no valve is in the way")
    test_pressure = QuantityField("Test pressure", "column", 100, 30000)
    temperature = QuantityField("Air temperature", "temperature", 223, 333)
    pressure = QuantityField("Air pressure (station)", "barometer", 50e3, 115e3)
    shape = RadioField("Face", choices=options(SHAPES), default="rounded_rectangle")
    diameter = QuantityField("Diameter", "length", 0.003, 0.3, required=False)
    width = QuantityField("Width", "length", 0.003, 0.3, required=False)
    height = QuantityField("Height", "length", 0.003, 0.3, required=False)
    corner_radius = QuantityField("Corner radius", "length", 0, 0.15, required=False)
    outline = TextAreaField(
        "Outline, x and y a line",
        [Optional(), Length(max=8000)],
        description="once round the rim, in mm or with a unit: “12.5, 3.0”",
    )
    columns = CountField(
        "Columns of the grid", [InputRequired("This is missing."), NumberRange(1, 15, "From 1 to 15.")], default=5
    )
    rows = CountField(
        "Rows of the grid", [InputRequired("This is missing."), NumberRange(1, 15, "From 1 to 15.")], default=4
    )

    def traced(self) -> list[tuple[float, float]]:
        """The outline as pairs [m]. Raises InputError that names the line."""
        return traced_points(self.outline.data or "")


class PointForm(BaseForm):
    """One pitot reading at a place of the grid."""

    x = HiddenField()
    y = HiddenField()
    velocity_pressure = QuantityField("Pitot reads", "column", 0, 30000)


class JobForm(BaseForm):
    """A porting job with its target and limits."""

    name = StringField(
        "Port", [DataRequired("This is missing."), Length(max=120)], description="which port of which part"
    )
    lift = QuantityField("Judged at a lift of", "length", 0, 0.05)
    test_pressure = QuantityField("Test pressure", "column", 100, 30000)
    start_flow = QuantityField("Flow before", "flow", 1e-6, 10)
    target_flow = QuantityField("Flow wanted", "flow", 1e-6, 10)
    flow_uncertainty = QuantityField(
        "One flow is good to ±", "flow", 0, 1, help="from the bench: a gain inside it is none"
    )
    hours_allowed = QuantityField("Hours allowed", "hours", 360, 4e6)
    wall_limit = QuantityField("Wall that must stay", "length", 0, 0.05)


class BoutForm(BaseForm):
    """One bout with the grinder."""

    held_on = DateField("Date", [InputRequired("Write a date like 2026-05-14.")])
    hours = QuantityField("Hours spent", "hours", 60, 4e5)
    done = StringField("What was cut", [DataRequired("Say what was cut."), Length(max=200)])
    trace_id = SelectField("Flow after it, from a trace", coerce=int)
    flow = QuantityField("or typed", "flow", 1e-6, 10, required=False)
    walls = TextAreaField(
        "Wall left", [Optional(), Length(max=2000)], description="a point a line: “short turn 3.1 mm”"
    )

    def thicknesses(self) -> list[tuple[str, float]]:
        """Wall left at named points, pairs of name and thickness [m]. Raises InputError that names the line."""
        found: list[tuple[str, float]] = []
        for number, line in enumerate((self.walls.data or "").splitlines(), start=1):
            if not line.strip():
                continue
            match = re.match(r"^\s*(.+?)[\s:=]+(\d[\d.,/\s-]*\s*\D*)$", line)
            if match is None:
                raise InputError(f"Line {number}: a name and a thickness are wanted, “short turn 3.1 mm”.", "walls")
            try:
                thickness = units.parse(match[2], "length", self.units.data or "metric").value
            except InputError as error:
                raise InputError(f"Line {number}: {error.message}", "walls") from None
            if not 0 <= thickness <= 0.1:
                raise InputError(f"Line {number}: a wall of {match[2].strip()} cannot be.", "walls")
            found.append((match[1].strip(), thickness))
        return found
