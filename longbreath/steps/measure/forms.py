"""Forms of Measure."""

from __future__ import annotations

from wtforms import RadioField, SelectField, StringField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional

from longbreath.web.forms import BaseForm, CountField, QuantityField, options

KINDS = (
    "bellmouth", "filter", "air box", "tube", "bend", "cone", "step", "throttle", "plenum", "runner", "port",
    "valve", "head", "primary", "merge", "collector", "pipe", "catalyst", "resonator", "muffler", "tip",
)  # fmt: skip


class ElementForm(BaseForm):
    """One element of the path."""

    kind = SelectField("What it is", choices=KINDS)
    name = StringField("Name", [DataRequired("This is missing."), Length(max=80)])
    side = SelectField("Side", choices=["intake", "engine", "exhaust"])
    belongs_to = SelectField(
        "Belongs to", choices=options([("both", "A and B"), ("A", "A, stock"), ("B", "B, the product")])
    )
    position = CountField(
        "Place from the mouth", [InputRequired("This is missing."), NumberRange(1, 99, "From 1 to 99.")]
    )
    length = QuantityField("Length along the flow", "length", 0.0005, 10)
    shape = RadioField(
        "Inside section",
        choices=options([("round", "round"), ("rounded_rectangle", "rounded rectangle")]),
        default="round",
    )
    diameter = QuantityField("Inside diameter", "length", 0.001, 1, required=False)
    width = QuantityField("Width", "length", 0.001, 1, required=False)
    height = QuantityField("Height", "length", 0.001, 1, required=False)
    corner_radius = QuantityField("Corner radius", "length", 0, 0.5, required=False)
    volume = QuantityField("Volume", "plenum", 1e-6, 0.2, required=False, help="for a plenum, box or muffler")
    volume_precision = QuantityField("Volume is good to ±", "plenum", 0, 0.05, required=False)
    tool = StringField(
        "Measured with", [Optional(), Length(max=120)], description="calliper, bore gauge, burette …"
    )
    precision = QuantityField("Sizes are good to ±", "length", 0, 0.05, required=False)
    provenance = SelectField(
        "These are", choices=options([("measured", "measured"), ("nominal", "nominal or remembered")])
    )
