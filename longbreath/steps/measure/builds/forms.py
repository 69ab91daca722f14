"""Forms of build sheets."""

from __future__ import annotations

from wtforms import DateField, SelectField, StringField
from wtforms.validators import DataRequired, InputRequired, Length, Optional

from longbreath.core.build import sheet
from longbreath.web.forms import AskForm, BaseForm, CountField, QuantityField


class BuildForm(BaseForm):
    """One version of a build sheet: a field for every line."""

    title = StringField(
        "Of what", [DataRequired("This is missing."), Length(max=80)], description="which vehicle or test engine"
    )
    label = SelectField("With")
    held_on = DateField("As it stood on", [InputRequired("Write a date like 2026-05-14.")])
    why = StringField("What changed since the version before", [Length(max=200)])

    def lines(self) -> dict[str, str]:
        """What was filled in, by line."""
        return {
            item.key: text for item in sheet.ITEMS if (text := (getattr(self, f"line_{item.key}").data or "").strip())
        }


for _item in sheet.ITEMS:
    setattr(
        BuildForm,
        f"line_{_item.key}",
        StringField(_item.label, [Optional(), Length(max=200)], description=_item.example),
    )


class HeadroomForm(AskForm):
    """What is asked of sensor, injectors and controller. Sent by GET; nothing is stored."""

    top = QuantityField("Sensor reads up to, absolute", "pressure", 50e3, 1e6, required=False)
    altitude = QuantityField("Altitude of the cell", "altitude", -500, 9000, required=False, help="“1500 m”, “5000 ft”")
    boost = QuantityField("Boost wanted", "pressure", 0, 5e5, required=False)
    power = QuantityField("Power wanted", "power", 1000, 3e6, required=False)
    speed = QuantityField("at", "speed", 50, 3000, required=False)
    consumption = QuantityField("Specific fuel consumption", "consumption", required=False)
    injectors = CountField("Injectors", [Optional()])
    rated = QuantityField("One flows", "injector_flow", 1e-8, 1e-3, required=False, help="as rated, “280 cm³/min”")
    rated_drop = QuantityField("rated at", "pressure", 1e5, 1e6, required=False)
    drop = QuantityField("Rail less manifold", "pressure", 5e4, 2e6, required=False)
    dead_time = QuantityField("Dead time", "dead_time", 0, 0.01, required=False)
    duty = QuantityField("Controller duty", "percent", 0, 1, required=False)
    spring = QuantityField("Boost on the spring alone", "pressure", 0, 5e5, required=False)
