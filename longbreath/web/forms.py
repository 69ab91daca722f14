"""The base form, and fields that take what people write for a quantity."""

from __future__ import annotations

import dataclasses
import re
from collections.abc import Iterable
from typing import TYPE_CHECKING, Any, TypeVar

from flask import g
from flask_login import current_user
from flask_wtf import FlaskForm
from wtforms import HiddenField, IntegerField, StringField
from wtforms.fields import SelectChoice
from wtforms.validators import InputRequired, Optional, StopValidation

from longbreath.core.basis import units as basis_units
from longbreath.core.basis import written
from longbreath.core.basis.errors import InputError
from longbreath.web.once import new_key

if TYPE_CHECKING:
    from _typeshed import DataclassInstance

C = TypeVar("C", bound="DataclassInstance")


def system() -> str:
    """The present viewer's display system."""
    if "system" not in g:
        g.system = current_user.units if current_user.is_authenticated else "us"
    return str(g.system)


def options(pairs: Iterable[tuple[Any, str]]) -> list[SelectChoice]:
    """Value and label pairs as the options of a select or radio field."""
    return [SelectChoice(value, label) for value, label in pairs]


def told(words: str, other: str) -> str:
    """What a text was read as, with the same in the other unit where that is another."""
    return f"read as {words}" + (f" = {other}" if other and other != words else "")


class QuantityField(StringField):
    """A quantity as people write it ("2-1/4 in"); `data` is SI. A bare number has the unit the form was shown with.

    kind: name of the kind of quantity. low, high: bounds in SI, inclusive. required: empty is an error.
    """

    def __init__(
        self,
        label: str,
        kind: str,
        low: float | None = None,
        high: float | None = None,
        required: bool = True,
        help: str = "",
        **keywords: Any,
    ) -> None:
        super().__init__(label, [InputRequired("This is missing.") if required else Optional()], **keywords)
        self.kind, self.low, self.high, self.help = kind, low, high, help
        self.required = required
        self.understood = ""
        self.raw = ""

    def si(self) -> float:
        """The SI value of a field that must be filled in. Raises InputError where it is empty."""
        if self.data is None:
            raise InputError("This is missing.", self.name)
        return float(self.data)

    def unit(self) -> str:
        """The unit symbol a bare number has."""
        return basis_units.kind_named(self.kind).symbol(self._system())

    @property
    def dimension(self) -> str:
        """The dimension of its kind: what a hand tool must measure to fill it."""
        return basis_units.kind_named(self.kind).dimension

    def _system(self) -> str:
        form = getattr(self, "owner", None)
        shown = getattr(form, "units", None)
        return shown.data if shown is not None and shown.data in basis_units.SYSTEMS else system()

    def process_formdata(self, valuelist: list[str]) -> None:
        """Keep the text for showing again and read it."""
        self.raw = valuelist[0].strip() if valuelist else ""
        self.data = None
        self.trouble = ""
        if self.raw:
            try:
                read = basis_units.parse(self.raw, self.kind, self._system())
            except InputError as error:
                self.trouble = error.message
                return
            self.data, self.understood = read.value, read.words

    def pre_validate(self, form: Any) -> None:
        """Stop with the sentence that says what is wrong."""
        if self.raw and self.trouble:
            raise StopValidation(self.trouble)
        if self.data is None:
            return
        for bound, sign in ((self.low, "less"), (self.high, "more")):
            if bound is not None and (self.data < bound if sign == "less" else self.data > bound):
                shown = basis_units.show(bound, self.kind, self._system())
                raise StopValidation(f"Read as {self.understood}; it cannot be {sign} than {shown}.")

    def beside(self) -> str:
        """What stands below the field: what it was read as, and the same in the other unit."""
        if self.data is None or self.errors:
            return ""
        shown_with_unit = self._value() != written.typed(self.data, self.kind, self._system()) or " " in self._value()
        other = written.beside(self.data, self.kind, self._system(), self.understood)
        if self.understood:
            return told(self.understood, other)
        own = basis_units.show(self.data, self.kind, self._system())
        return f"= {own}" if shown_with_unit else f"= {other}" if other else ""

    def _value(self) -> str:
        if self.raw:
            return self.raw
        if self.data is None:
            return ""
        return written.typed(self.data, self.kind, self._system())


class BaseForm(FlaskForm):
    """All forms: remembers the display system it was shown in, and the version of the record it was filled from."""

    units = HiddenField()
    version = HiddenField()
    once = HiddenField()

    def __init__(self, *arguments: Any, **keywords: Any) -> None:
        super().__init__(*arguments, **keywords)
        if self.units.data not in basis_units.SYSTEMS:
            self.units.data = system()
        self.once.data = self.once.data or new_key()
        for field in self:
            if isinstance(field, QuantityField):
                field.owner = self
                if field.raw:
                    field.process_formdata([field.raw])

    def validate(self, extra_validators: Any = None) -> bool:
        """Check every field; none may hold more text than a page, or signs that nobody sees and nothing can keep."""
        valid = super().validate(extra_validators)
        for field in self:
            is_typed = isinstance(field, StringField) and not isinstance(field, HiddenField)
            if is_typed and isinstance(field.data, str) and (words := _unwritable(field.data)):
                field.errors = [*field.errors, words]
                valid = False
        return bool(valid)

    def values(self) -> dict[str, Any]:
        """What was read, by field name, without the form's own fields."""
        own = {"csrf_token", "units", "version", "once", "submit"}
        return {field.name: field.data for field in self if field.name not in own}

    def command(self, kind: type[C], /, **more: Any) -> C:
        """What was read as a command: its fields by name, and `more` for those that no field holds."""
        read = {**self.values(), **more}
        names = {item.name for item in dataclasses.fields(kind)}
        return kind(**{name: value for name, value in read.items() if name in names})

    def blame(self, error: InputError) -> None:
        """Put an error from the core or an operation beside the field it names (or the first field)."""
        field = getattr(self, error.field, None) if error.field else None
        if field is None or not hasattr(field, "errors"):
            field = next(f for f in self if f.type != "HiddenField")
        field.errors = [*field.errors, error.message]


LONGEST_TEXT = 100_000
_UNSEEN = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff]")


def _unwritable(text: str) -> str:
    """Why a text cannot be kept, or nothing."""
    if len(text) > LONGEST_TEXT:
        return f"This is longer than {LONGEST_TEXT} characters."
    found = _UNSEEN.search(text)
    return f"This holds a sign that cannot be seen (U+{ord(found[0]):04X}). Type it anew." if found else ""


class AskForm(BaseForm):
    """A form that is sent by GET: it asks, stores nothing, and carries its answers in the address."""

    class Meta:
        """Nothing is stored, so there is no forgery to guard against."""

        csrf = False


def traced_points(text: str) -> list[tuple[float, float]]:
    """An outline typed as an x and a y a line, as pairs [m]; bare numbers are mm. Raises InputError that names the line."""
    found = []
    for number, line in enumerate(text.splitlines(), start=1):
        if not line.strip():
            continue
        parts = [p for p in re.split(r"[;\t]|,\s+|\s+(?=[-−+]?\d)|,(?=\s*[-−+]?\d+\.)", line.strip()) if p.strip()]
        try:
            if len(parts) != 2:
                raise InputError("an x and a y are wanted.")
            x, y = (basis_units.parse(part, "length", "metric").value for part in parts)
        except InputError as error:
            raise InputError(f"Line {number}: {error.message}", "outline") from None
        found.append((x, y))
    return found


class CountField(IntegerField):
    """A whole number, with the sentence people get for anything else."""

    def process_formdata(self, valuelist: list[str]) -> None:
        """Read a whole number."""
        if not valuelist or not valuelist[0].strip():
            self.data = None
            return
        try:
            self.data = int(valuelist[0])
        except ValueError:
            self.data = None
            raise ValueError(f"“{valuelist[0]}” is not a whole number.") from None


class RangeField(StringField):
    """Two quantities as people write a window ("88 to 92 °C", "190-200 F"); `data` is (low, high) in SI, None where it is empty."""

    kind = ""

    def __init__(self, label: str, of: str, **keywords: Any) -> None:
        super().__init__(label, [Optional()], **keywords)
        self.of, self.raw = of, ""

    def process_formdata(self, valuelist: list[str]) -> None:
        """Read both ends; the first takes the unit of the second where it has none."""
        self.raw, self.data = (valuelist[0].strip() if valuelist else ""), None
        if not self.raw:
            return
        parts = re.split(r"\s+to\s+|\s*…\s*|\s*–\s*|(?<=\d)\s*-\s*(?=\d)", self.raw)
        try:
            if len(parts) != 2:
                raise InputError("write both ends, for example “88 to 92 °C”.")
            unit = re.sub(r"^[-+\d.,\s]*", "", parts[1])
            first = parts[0] if re.search(r"[^\d.,\s+-]", parts[0]) else f"{parts[0]} {unit}"
            low, high = (basis_units.parse(p, self.of, system()).value for p in (first, parts[1]))
        except InputError as error:
            raise ValueError(f"“{self.raw}” is no window: {error.message}") from None
        if low >= high:
            raise ValueError("The window begins above its end.")
        self.data = (low, high)

    def _value(self) -> str:
        if self.raw or self.data is None:
            return self.raw
        low, high = (written.typed(v, self.of, system()) for v in self.data)
        return f"{low} to {high} {basis_units.kind_named(self.of).symbol(system())}"
