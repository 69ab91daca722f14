"""Form of the test card."""

from __future__ import annotations

from wtforms import SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange

from longbreath.web.forms import BaseForm, CountField, QuantityField


class CardForm(BaseForm):
    """What is compared, what is held, what else changed, how many pulls."""

    dyno_id = SelectField("Dyno", coerce=int)
    a_is = StringField("A is", [DataRequired("Say what A is."), Length(max=200)])
    b_is = StringField("B is", [DataRequired("Say what B is."), Length(max=200)])
    held = TextAreaField(
        "Held the same",
        [DataRequired("Say what is held."), Length(max=600)],
        description="gear, fuel, tyres and pressure, oil and coolant temperature, bonnet, fan",
    )
    also_changed = TextAreaField(
        "What else differs, beside what the build sheets show",
        [DataRequired("Write “nothing” if so."), Length(max=600)],
        description="gaskets, a sensor moved, the tune; or “nothing”",
    )
    pulls_per_set = CountField(
        "Pulls in each set", [InputRequired("This is missing."), NumberRange(2, 12, "From 2 to 12.")]
    )
    effect_wanted = QuantityField("Smallest gain worth finding", "torque", 1e-3, 1e4)
    mixture_target = QuantityField("Mixture asked for, λ", "ratio", 0.5, 1.6, required=False)
    mixture_tolerance = QuantityField("λ may be off by", "ratio", 0.001, 0.3)
