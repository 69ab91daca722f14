"""Forms of trials: what was read with which tool, under which conditions, row by row."""

from __future__ import annotations

from typing import Any, cast

from wtforms import DateField, SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, InputRequired, Length, Optional

from longbreath.core.basis import written
from longbreath.core.weigh.trial_kinds import Column, TrialKind
from longbreath.dossier.weigh.trials import ORIGINS, TrialCard, read_rows
from longbreath.store.models import Trial
from longbreath.web.forms import BaseForm, QuantityField, options, system


class TrialForm(BaseForm):
    """A trial; the fields of its kind are made for it."""

    title = StringField("What was tried", [DataRequired("This is missing."), Length(max=120)])
    held_on = DateField("Day of the last reading", [InputRequired("This is missing.")])
    tool = StringField(
        "Read with", [DataRequired("Say which tool."), Length(max=120)], description="make it findable: name and number"
    )
    rows = TextAreaField("Readings", [DataRequired("There are no rows yet.")])
    origin = SelectField(
        "Whose test it is", choices=options(ORIGINS.items()), description="only an own one backs a claim"
    )
    why = StringField("Why this takes the place of the earlier one", [Optional(), Length(max=300)])

    def card(self, kind: TrialKind) -> TrialCard:
        """What was written. Raises InputError beside the rows."""
        conditions = {name: (self[f"condition_{name}"].data or "").strip() for name, _ in kind.conditions}
        rows = read_rows(kind, str(self.rows.data), str(self.units.data))
        read = {name: self[name].data for name in ("title", "held_on", "tool", "origin")}
        step = float(self["step"].data or 0.0)
        told = {name: words for name, words in conditions.items() if words}
        return TrialCard(kind.name, step=step, conditions=told, rows=rows, why=self.why.data or "", **read)


def trial_form(kind: TrialKind, before: Trial | None) -> TrialForm:
    """The form of a kind, with an earlier trial that is corrected."""
    fields: dict[str, Any] = {
        f"condition_{name}": StringField(label, [Optional(), Length(max=200)]) for name, label in kind.conditions
    }
    fields["step"] = QuantityField("The tool’s own step", kind.step, 0.0, None, required=False)
    made = cast(type[TrialForm], type("TrialForm", (TrialForm,), fields))
    if before is None:
        return made()
    data = {"title": before.title, "held_on": before.held_on, "tool": before.tool, "step": before.step}
    data["origin"] = before.origin
    data |= {f"condition_{name}": words for name, words in before.conditions.items()}
    data["rows"] = "\n".join(written_row(kind, row) for row in before.rows)
    return made(data=data)


def written_row(kind: TrialKind, row: dict[str, Any]) -> str:
    """A row as it would be typed."""
    return ", ".join(_written(column, row.get(column.name)) for column in kind.columns).rstrip(", ")


def _written(column: Column, value: Any) -> str:
    if value is None or not column.kind or column.kind == "yes":
        return "" if value is None else str(value)
    return written.typed(float(value), column.kind, system()).replace(",", "")
