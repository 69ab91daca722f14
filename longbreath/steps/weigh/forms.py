"""Forms of Weigh: any band may be asked about, and what else differed has its reason."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, cast

from wtforms import StringField
from wtforms.validators import Length, Optional

from longbreath.core.basis.constants import RPM
from longbreath.core.build.sheet import Differing
from longbreath.web.forms import AskForm, BaseForm, QuantityField


class BandForm(AskForm):
    """A band of speeds. Kept in the address."""

    low = QuantityField("From", "speed", 100 * RPM, 30000 * RPM)
    high = QuantityField("to", "speed", 100 * RPM, 30000 * RPM)


class ReasonsForm(BaseForm):
    """A reason for each thing in which A and B differed; its fields are made for them."""

    def given(self) -> dict[str, str]:
        """What was written, by line."""
        return {
            field.name.removeprefix("reason_"): field.data or "" for field in self if field.name.startswith("reason_")
        }


def reasons_form(differing: Sequence[Differing]) -> ReasonsForm:
    """The form for these differences, with the reasons that stand."""
    fields: dict[str, Any] = {
        f"reason_{item.line}": StringField(f"Why {item.label.lower()} differed", [Optional(), Length(max=300)])
        for item in differing
    }
    kind = cast(type[ReasonsForm], type("ReasonsForm", (ReasonsForm,), fields))
    return kind(data={f"reason_{item.line}": item.reason for item in differing})
