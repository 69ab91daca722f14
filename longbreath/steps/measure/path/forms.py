"""Forms of the path."""

from __future__ import annotations

import re

from wtforms import RadioField, SelectField, SelectMultipleField, StringField, TextAreaField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.path.kinds import KINDS, SIDES
from longbreath.core.path.sections import SHAPES
from longbreath.dossier.path.elements import SYMBOLS
from longbreath.web.forms import AskForm, BaseForm, CountField, QuantityField, options

SURFACES = (("drawn", "drawn or rolled tube"), ("cast", "as cast"), ("smooth", "polished or moulded"))


class ElementForm(BaseForm):
    """One element of the path."""

    kind = SelectField("What it is", choices=list(KINDS))
    name = StringField("Name", [DataRequired("This is missing."), Length(max=80)])
    side = SelectField("Side", choices=list(SIDES))
    belongs_to = SelectField("Belongs to")
    position = CountField(
        "Place from the mouth", [InputRequired("This is missing."), NumberRange(1, 99, "From 1 to 99.")]
    )
    length = QuantityField("Length along the flow", "length", 0.0005, 10)
    branches = CountField(
        "How many beside each other",
        [InputRequired("This is missing."), NumberRange(1, 24, "From 1 to 24.")],
        default=1,
    )
    shape = RadioField("Inside section", choices=options((k, name) for k, (name, _) in SHAPES.items()), default="round")
    given_as = SelectField(
        "Round tube measured", choices=options([("inside", "inside"), ("outside", "outside, with its wall")])
    )
    diameter = QuantityField("Inside diameter", "length", 0.001, 1, required=False)
    outside_diameter = QuantityField(
        "Outside diameter", "length", 0.001, 1, required=False, help="of a squashed tube: before squashing"
    )
    wall = QuantityField("Wall", "length", 0.0001, 0.05, required=False)
    minor_outside = QuantityField("Outside height after squashing", "length", 0.001, 1, required=False)
    width = QuantityField("Width", "length", 0.001, 1, required=False)
    height = QuantityField("Height", "length", 0.001, 1, required=False)
    corner_radius = QuantityField("Corner radius", "length", 0, 0.5, required=False)
    face_id = SelectField("Traced outline", coerce=int, description="a face traced under Faces")
    exit_diameter = QuantityField(
        "Inside diameter at exit",
        "length",
        0.001,
        1,
        required=False,
        help="only where it tapers; of another shape, of the same area",
    )
    tool = StringField("Measured with", [Length(max=120)], description="calliper, bore gauge, burette …")
    precision = QuantityField("Sizes are good to ±", "length", 0, 0.05, required=False)
    provenance = SelectField(
        "These are",
        [DataRequired("Say whether these were measured.")],
        choices=options([("", "choose"), ("measured", "measured"), ("nominal", "nominal or remembered")]),
    )
    nominal_sizes = SelectMultipleField(
        "Only these are nominal", choices=options((k, words) for k, (_, words) in SYMBOLS.items())
    )
    wall_surface = SelectField("Inside wall", choices=options(SURFACES))
    bend_angle = QuantityField("Bend", "angle", 0, 6.3, required=False)
    bend_radius = QuantityField("Centre-line radius", "length", 0.002, 5, required=False, help="empty: a mitre")
    mouth_radius = QuantityField("Radius of the mouth’s edge", "length", 0, 0.3, required=False)
    burr = QuantityField("Burr left inside", "length", 0, 0.02, required=False)
    proud = QuantityField("Gasket stands proud", "length", 0, 0.02, required=False)
    loss_drop = QuantityField(
        "Pressure drop across it",
        "column",
        0,
        200000,
        required=False,
        help="own loss, as measured; of one, where several lie beside each other",
    )
    loss_flow = QuantityField("at a flow of", "flow", 1e-5, 5, required=False)
    open_share = QuantityField(
        "Open share",
        "percent",
        0.01,
        1,
        required=False,
        help="what a flap or throttle plate leaves open; empty: all of it",
    )
    pressure_ratio = QuantityField("Pressure ratio", "ratio", 1, 6, required=False, help="of a compressor or turbine")
    outlet_temperature = QuantityField("Gas temperature after it", "temperature", 230, 1400, required=False)
    volume = QuantityField(
        "Volume", "plenum", 1e-6, 0.2, required=False, help="plenum, box or muffler, without what sticks in"
    )
    volume_precision = QuantityField("Volume is good to ±", "plenum", 0, 0.05, required=False)
    stack_height = QuantityField("Runners stick in by", "length", 0, 0.5, required=False)
    stack_outside = QuantityField("Outside diameter of what sticks in", "length", 0, 0.5, required=False)
    spacer_area = QuantityField("Inside area of its spacer", "area", 0, 0.5, required=False)
    spacer_height = QuantityField("Spacer", "length", 0, 0.5, required=False)


class ReadingsForm(BaseForm):
    """Several readings of one size with one tool."""

    size = SelectField("Which size")
    tool = StringField("Tool", [DataRequired("Say what it was read with."), Length(max=120)])
    precision = QuantityField("The tool is good to ±", "length", 0, 0.05)
    readings = TextAreaField(
        "Readings, one a line",
        [DataRequired("Read it at least once."), Length(max=2000)],
        render_kw={"data-dimension": "length", "data-list": "line"},
        description="a place may follow: “38.21 mm at 0°”",
    )

    def taken(self) -> list[tuple[float, str]]:
        """Pairs of value [m] and place. Raises InputError that names the line."""
        found = []
        for number, line in enumerate((self.readings.data or "").splitlines(), start=1):
            if not line.strip():
                continue
            value, _, place = re.sub(r"\s+at\s+", "@", line.strip()).partition("@")
            try:
                read = units.parse(value, "length", self.units.data or "metric").value
            except InputError as error:
                raise InputError(f"Line {number}: {error.message}", "readings") from None
            if not 0.00005 < read < 10:
                raise InputError(f"Line {number}: a size of {value.strip()} cannot be.", "readings")
            found.append((read, place.strip()))
        return found


class OutForm(BaseForm):
    """Why an element is not part of the path any more."""

    out_reason = StringField("Why it is taken out", [DataRequired("Say why."), Length(max=200)])


class DutyForm(AskForm):
    """What flows through the path, and how it is looked at. Sent by GET; nothing is stored."""

    at = StringField(
        "At", [Optional(), Length(max=40)], description="an engine speed, a flow or a power: 6500 rpm, 250 cfm, 160 kW"
    )
    filling = QuantityField("Volumetric efficiency", "percent", 0.1, 3, required=False)
    air_fuel_ratio = QuantityField("Air to fuel, by mass", "ratio", 5, 60, required=False)
    consumption = QuantityField("Specific fuel consumption", "consumption", required=False)
    temperature = QuantityField("Air at the mouth", "temperature", 230, 350, required=False)
    exhaust_temperature = QuantityField("Gas at the exhaust port", "temperature", 400, 1500, required=False)
    heat_transfer = QuantityField("Heat loss of the exhaust", "heat_transfer", 0, 300, required=False)
