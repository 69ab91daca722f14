"""Forms of Reckon."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from wtforms import HiddenField, SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, InputRequired, Length, Optional

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.quantities import SMALLEST, TURN
from longbreath.core.reckon.candidates import FAMILIES, SHELF, Column
from longbreath.core.reckon.forecast import AIRFLOW, PEAK_SPEED, POWER, QUANTITIES, TORQUE
from longbreath.core.reckon.rests import TYPED
from longbreath.web.forms import BaseForm, CountField, QuantityField, options

LEAST = {TORQUE: -2000.0, POWER: -1e6, PEAK_SPEED: -3000 * RPM, AIRFLOW: -1.0}
"""The largest loss that can be forecast [SI], and with the other sign the largest gain."""
PARTS = (("low", "least"), ("middle", "expected"), ("high", "most"))


class KeepForm(BaseForm):
    """Keeping an answer, with why."""

    note = StringField("Why this one?", [Optional(), Length(max=200)])


class TargetForm(BaseForm):
    """What the application is reckoned for, and what a candidate must keep to."""

    power = QuantityField("Target power", "power", 1000, 2e6)
    speed = QuantityField("at", "speed", 500 * RPM, 30000 * RPM)
    velocity_least = QuantityField(
        "Mean velocity at least", "velocity", 5, 300, help="slower costs torque; a school’s choice"
    )
    velocity_most = QuantityField("at most", "velocity", 5, 300)
    tuned_from = QuantityField("Runner to tune from", "speed", 500 * RPM, 30000 * RPM, required=False)
    tuned_to = QuantityField("to", "speed", 500 * RPM, 30000 * RPM, required=False)
    height = QuantityField(
        "Room for it, height", "length", 0, 5, required=False, help="from its flange to the bonnet, less the gap"
    )
    deck = QuantityField("Deck height of this engine", "length", 0, 1, required=False)
    loss = QuantityField("Most it may cost this head", "percent", 0, 1, required=False)
    lip = QuantityField("Largest lip against the flow", "length", 0, 0.05, required=False)
    wall = QuantityField("Wall that must stay", "length", 0, 0.05, required=False)
    access = QuantityField("Most minutes to get at it", "minutes", 0, 360000, required=False)
    price = QuantityField("Most it may cost", "money", 0, 1e9, required=False)
    ratio = QuantityField("Pressure ratio wanted", "ratio", 1, 8, required=False, help="of a turbocharger")
    head_flow = QuantityField(
        "Flow of the head alone",
        "flow",
        0,
        10,
        required=False,
        help="where the bench has not read it: at one test pressure",
    )
    why = StringField("For whom, and why these", [Optional(), Length(max=200)])


class CandidateForm(BaseForm):
    """One candidate; each value with what it rests on. Its columns are added by family."""

    revision_id = SelectField("Part of the library", coerce=int)
    name = StringField("or what it is called", [Optional(), Length(max=80)])
    position = CountField("Place in the table", [InputRequired("This is missing.")])

    columns: Sequence[Column] = ()

    def validate(self, extra_validators: Any = None) -> bool:
        """A value without what it rests on is not taken: there is no usual one."""
        good = bool(super().validate(extra_validators))
        for key, entry in self.entered().items():
            if not entry["rests"]:
                self[f"rests_{key}"].errors = ["Say what this rests on."]
                good = False
        return good

    def entered(self) -> dict[str, dict[str, Any]]:
        """The values filled in, with what they rest on and where they come from, by column."""
        found = {}
        for column in self.columns:
            value = self[f"value_{column.key}"].data
            if value is not None and value != "":
                where = (self[f"where_{column.key}"].data or "").strip()
                found[column.key] = {"value": value, "rests": self[f"rests_{column.key}"].data, "where": where}
        return found


def candidate_form(family: str, **keywords: Any) -> CandidateForm:
    """The form of one family: a value, what it rests on and where from, for each column that is not worked out."""
    columns = tuple(c for c in FAMILIES[family] if not c.made)
    fields: dict[str, Any] = {"columns": columns}
    for column in columns:
        fields[f"value_{column.key}"] = _value(column)
        rests = options([("", "say what it rests on"), *TYPED])
        fields[f"rests_{column.key}"] = SelectField(f"{column.label}: rests on", choices=rests)
        fields[f"where_{column.key}"] = StringField(f"{column.label}: from", [Optional(), Length(max=120)])
    made = type(f"{family.title().replace(' ', '')}Form", (CandidateForm,), fields)
    return made(**keywords)  # type: ignore[no-any-return]


def _value(column: Column) -> Any:
    if column.key == "shelf":
        return SelectField(column.label, choices=options([(words if key else "", words) for key, words in SHELF]))
    if column.kind:
        least = -TURN if column.kind == "angle" else 0.0 if column.may_be_nought else SMALLEST
        return QuantityField(column.label, column.kind, least, TURN if column.kind == "angle" else None, required=False)
    return StringField(column.label, [Optional(), Length(max=160)])


class OutForm(BaseForm):
    """Taking a candidate out."""

    reason = StringField("Why is it no candidate any more?", [DataRequired("Say why."), Length(max=200)])


class ForecastForm(BaseForm):
    """A forecast drawn by hand: band values are added by quantity."""

    expects = TextAreaField(
        "What does it rest on, and why?",
        [DataRequired("Say what you expect and why; it will stand beside the verdict."), Length(max=600)],
    )
    instead_of = HiddenField()


def forecast_form(quantity: str, bands: int, **keywords: Any) -> ForecastForm:
    """The form of one quantity: least, expected and most of each band; of airflow over lift the highest lift as well."""
    kind, bound = QUANTITIES[quantity].kind, LEAST[quantity]
    fields: dict[str, Any] = {}
    for number in range(bands):
        for part, words in PARTS:
            fields[f"band{number}_{part}"] = _difference(words, kind, bound)
    if quantity == AIRFLOW and bands > 1:
        fields["top_lift"] = QuantityField("Highest lift", "length", 0.0005, 0.05)
    made = type(f"{quantity.title()}ForecastForm", (ForecastForm,), fields)
    return made(**keywords)  # type: ignore[no-any-return]


def _difference(label: str, kind: str, bound: float) -> QuantityField:
    return QuantityField(label, kind, bound, -bound)


class SchoolForm(BaseForm):
    """A forecast by a school."""

    school = SelectField("School")
    expects = ForecastForm.expects
