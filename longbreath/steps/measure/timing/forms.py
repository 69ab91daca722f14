"""Forms of timing: one degree-wheel sheet by kind, and a rung of the port ladder."""

from __future__ import annotations

from typing import Any

from wtforms import BooleanField, DateField, SelectField, StringField
from wtforms.validators import DataRequired, InputRequired, Length, Optional

from longbreath.core.timing import port_ladder, wheel
from longbreath.dossier.timing import KEEP_AS_READ
from longbreath.web.forms import BaseForm, CountField, QuantityField, options

MOST = 4.8
"""Largest angle that may be read [rad], 275°."""
WINDOWS: dict[str, tuple[tuple[str, str, str, str], ...]] = {
    "poppet": (
        ("valves", "Inlet valves of a cylinder", "count", ""),
        ("valve_diameter", "Valve head", "length", ""),
        ("throat_diameter", "Throat", "length", ""),
        ("stem_diameter", "Stem", "length", ""),
        ("peak_lift", "Peak lift", "length", ""),
    ),
    "disc": (
        ("area", "Area of the inlet window", "area", ""),
        ("span", "It spans", "angle", "of the disc"),
        ("inlet_length", "Inlet tract, disc to mouth", "length", "decides how late it may close"),
    ),
    "piston": (
        ("depth", "Top of the exhaust window below top dead centre", "length", "with the rod this gives its angle"),
        ("top_width", "Its width at the top", "length", ""),
        ("bottom_width", "and at the bottom", "length", ""),
        ("rod", "Rod", "length", ""),
    ),
    "rotary": (
        ("area", "Area of the intake port", "area", ""),
        ("ramp", "It opens and closes over", "angle", "of the shaft, each"),
    ),
}
"""Sizes for the time-area, by kind: name, label, kind of quantity, help."""


class SheetForm(BaseForm):
    """What every degree-wheel sheet says."""

    title = StringField(
        "Name", [DataRequired("This is missing."), Length(max=120)], description="which cam, disc or port"
    )
    label = SelectField("It is of")
    held_on = DateField("Date", [InputRequired("Write a date like 2026-05-14.")])
    stop_before = QuantityField("Stop met before top", "angle", 0.01, 3.1, required=False)
    stop_after = QuantityField("Stop met after top", "angle", 0.01, 3.1, required=False)
    says = StringField(
        "What its maker calls it",
        [Optional(), Length(max=200)],
        description="“advanced” for a later closing? Say what is meant",
    )
    note = StringField("Note", [Optional(), Length(max=300)])
    why = StringField("Why it was read again", [Length(max=200)])
    as_read = BooleanField(KEEP_AS_READ)

    def angles(self, prefix: str) -> dict[str, float]:
        """The angles filled in under a prefix, by the rest of the name [rad]."""
        found = ((f.name[len(prefix) :], f.data) for f in self if f.name.startswith(prefix))
        return {name: float(value) for name, value in found if value is not None}


def sheet_form(kind: str, **keywords: Any) -> SheetForm:
    """The form of one kind: its readings, noted totals, tares and window."""
    fields: dict[str, Any] = {}
    for name, label in wheel.READINGS[kind]:
        fields[f"read_{name}"] = QuantityField(label, "angle", -MOST / 2, MOST, required=False)
    for port in wheel.PORTS[kind]:
        fields[f"total_{port}"] = QuantityField(
            f"Noted total, {port}", "angle", 0.1, 9, required=False, help="read through, or on the maker’s card"
        )
    if kind in ("disc", "rotary", "piston"):
        for name, label in wheel.READINGS[kind]:
            fields[f"tare_{name}"] = QuantityField(
                f"Worked port: {label.split(',')[0].lower()}", "angle", -1, 1, required=False
            )
    if kind == "poppet":
        fields["checking_lift"] = QuantityField("Checking lift", "length", 0.00001, 0.01)
    for name, label, quantity, help in WINDOWS[kind]:
        fields[f"window_{name}"] = QuantityField(label, quantity, 0, required=False, help=help)
    made = type(f"{kind.title()}SheetForm", (SheetForm,), fields)
    return made(**keywords)  # type: ignore[no-any-return]


class RungForm(BaseForm):
    """One step of porting; each value with where it comes from."""

    name = StringField("Step", [DataRequired("This is missing."), Length(max=80)])
    position = CountField("Place on the ladder", [InputRequired("This is missing.")])

    def validate(self, extra_validators: Any = None) -> bool:
        """A value without its origin is not taken: there is no usual one."""
        good = bool(super().validate(extra_validators))
        for key, entry in self.entered().items():
            if not entry["grade"]:
                self[f"grade_{key}"].errors = ["Say where this comes from."]
                good = False
        return good

    def entered(self) -> dict[str, dict[str, Any]]:
        """The values filled in, with their grade, by column."""
        found = {}
        for column in port_ladder.COLUMNS:
            value = getattr(self, f"value_{column.key}").data
            if value is not None and value != "":
                found[column.key] = {"value": value, "grade": getattr(self, f"grade_{column.key}").data}
        return found


for _column in port_ladder.COLUMNS:
    _field = (
        QuantityField(_column.label, _column.kind, -10, required=False)
        if _column.kind
        else StringField(_column.label, [Optional(), Length(max=120)])
    )
    setattr(RungForm, f"value_{_column.key}", _field)
    setattr(
        RungForm,
        f"grade_{_column.key}",
        SelectField(f"{_column.label}: from", choices=options([("", "say from where"), *port_ladder.GRADES])),
    )
