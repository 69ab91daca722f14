"""Forms of faces and fit."""

from __future__ import annotations

import json
import math

from flask_wtf.file import FileField
from wtforms import HiddenField, RadioField, SelectField, SelectMultipleField, StringField, TextAreaField
from wtforms.validators import DataRequired, Length, Optional
from wtforms.widgets import CheckboxInput, ListWidget

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.path import faces, mounting
from longbreath.web.forms import AskForm, BaseForm, QuantityField, options, traced_points

SHAPES = (
    ("round", "round"),
    ("oval", "oval"),
    ("rounded_rectangle", "rounded rectangle"),
    ("d", "D"),
    ("outline", "traced or from a file"),
)
SIZES = ("diameter", "width", "height", "corner_radius")


class FaceForm(BaseForm):
    """The face of one port."""

    name = StringField("Name", [DataRequired("This is missing."), Length(max=80)], description="which part, which port")
    belongs_to = SelectField("Belongs to")
    shape = RadioField("Face", choices=options(SHAPES), default="rounded_rectangle")
    diameter = QuantityField("Diameter", "length", 0.003, 0.3, required=False)
    width = QuantityField("Width", "length", 0.003, 0.3, required=False)
    height = QuantityField("Height", "length", 0.003, 0.3, required=False)
    corner_radius = QuantityField("Corner radius", "length", 0, 0.15, required=False)
    file = FileField(
        "Outline from a file", description="SVG or DXF, or columns of x and y in mm; the largest closed outline counts"
    )
    outline = TextAreaField(
        "or x and y a line", [Optional(), Length(max=20000)], description="once round the rim, in mm or with a unit"
    )
    wall = QuantityField("Least wall around it", "length", 0, 0.1, required=False)
    wall_limit = QuantityField("Wall that must stay", "length", 0, 0.1)
    tool = StringField("Taken with", [Length(max=120)], description="calliper, rubbing and scanner, photo …")
    precision = QuantityField("Rim is good to ±", "length", 0, 0.01, required=False)
    provenance = SelectField(
        "These are",
        [DataRequired("Say whether these were measured.")],
        choices=options([("", "choose"), ("measured", "measured"), ("nominal", "nominal or remembered")]),
    )

    def traced(self) -> list[tuple[float, float]]:
        """The outline as pairs [m]. Raises InputError that names the line."""
        return traced_points(self.outline.data or "")


class PhotoTraceForm(BaseForm):
    """A face traced on a photo: picked points in the picture, and what two of them are apart."""

    photo_id = SelectField("Photo", coerce=int)
    name = StringField("Name", [DataRequired("This is missing."), Length(max=80)])
    belongs_to = SelectField("Belongs to")
    distance = QuantityField(
        "The two scale points are apart", "length", 0.002, 1, help="a ruler in the picture, flat on the face"
    )
    picked = HiddenField()
    scaled = HiddenField()
    wall_limit = QuantityField("Wall that must stay", "length", 0, 0.1)

    def points(self) -> tuple[list[tuple[float, float]], list[tuple[float, float]]]:
        """Points picked on the rim, and the two of the scale, in picture points. Raises InputError."""
        rim, scale = (self._pairs(field) for field in (self.picked, self.scaled))
        if len(scale) != 2:
            raise InputError("Pick the two scale points in the picture first.", "distance")
        if len(rim) < 3:
            raise InputError("Pick three points or more on the rim.", "name")
        return rim, scale

    @staticmethod
    def _pairs(field: HiddenField) -> list[tuple[float, float]]:
        try:
            found = [(float(x), float(y)) for x, y in json.loads(field.data or "[]")]
        except (ValueError, TypeError):
            raise InputError("The picked points did not arrive whole: pick again.", "name") from None
        if len(found) > 2000 or not all(math.isfinite(v) for pair in found for v in pair):
            raise InputError("The picked points did not arrive whole: pick again.", "name")
        return found


class LayForm(AskForm):
    """How the downstream face lies over the upstream one, and the plates between them. Sent by GET; nothing is stored."""

    upstream = SelectField("From", coerce=int)
    downstream = SelectField("to", coerce=int)
    right = QuantityField("shifted right", "length", -0.1, 0.1, required=False)
    up = QuantityField("up", "length", -0.1, 0.1, required=False)
    turn = QuantityField("turned", "angle", -3.2, 3.2, required=False)
    plates = StringField("Plates between", [Optional(), Length(max=80)], description="thickness each, “12 mm + 3 mm”")
    layout = SelectField("Layout", choices=options(faces.LAYOUTS), default="in-line", validate_choice=False)
    angle = QuantityField("Angle of the face", "angle", 0, 1.5, required=False)

    def thicknesses(self) -> list[float]:
        """The plates [m]. Raises InputError."""
        found = []
        for part in (self.plates.data or "").replace(";", "+").split("+"):
            if part.strip():
                try:
                    found.append(units.parse(part, "length", self.units.data or "metric").value)
                except InputError as error:
                    raise InputError(error.message, "plates") from None
        return found


class FitForm(BaseForm):
    """What fitting takes."""

    minutes = QuantityField("Service time", "minutes", 60, 400000, required=False)
    minutes_from = StringField(
        "Timed by", [Optional(), Length(max=120)], description="who, on which vehicle; or “estimated”"
    )
    drained = StringField("Drained", [Optional(), Length(max=200)], description="coolant, fuel pressure, refrigerant …")
    removed = StringField("Taken off", [Optional(), Length(max=300)])
    wall = QuantityField("Least wall left on the part", "length", 0, 0.1, required=False)
    wall_limit = QuantityField("Wall that must stay", "length", 0, 0.1, required=False)
    done = SelectMultipleField(
        "Checklist",
        choices=options(mounting.CHECKLIST),
        widget=ListWidget(prefix_label=False),
        option_widget=CheckboxInput(),
    )
    note = TextAreaField("Note", [Optional(), Length(max=1000)])


class SpotForm(BaseForm):
    """One place looked at."""

    place = StringField("Place", [DataRequired("Which place?"), Length(max=80)])
    gap = QuantityField("Gap", "length", 0, 1, required=False)
    state = SelectField("It is", choices=options(mounting.STATES))
    note = StringField("Note", [Optional(), Length(max=200)])
