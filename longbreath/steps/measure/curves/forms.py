"""Forms of curves. All of them live in the address."""

from __future__ import annotations

from wtforms import TextAreaField
from wtforms.validators import Length, Optional

from longbreath.web.forms import AskForm, QuantityField


class WordsForm(AskForm):
    """A statement on airflow to be checked."""

    statement = TextAreaField("A statement for the catalogue", [Optional(), Length(max=900)])


class TargetForm(AskForm):
    """What a stack shall flow."""

    target = QuantityField("The stack shall flow", "flow", 1e-6, 10, required=False)


class EqualFlowForm(AskForm):
    """The flow at which back pressures are compared."""

    wanted = QuantityField("Back pressure at a flow of", "flow", 1e-6, 10, required=False)
