"""Forms made of what a command asks for: one field each, in order, in the manner of all other forms."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from flask_wtf.file import FileField
from wtforms import BooleanField, DateField, Field, FloatField, SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional

from longbreath.dossier.asked import Ask, asked_of
from longbreath.web.forms import BaseForm, QuantityField, options, system

LONG, SHORT = 20000, 200


def form_of(card: type[Any]) -> type[BaseForm]:
    """The form of a command; its docstring is the command's."""
    if card not in _FORMS:
        _FORMS[card] = _made(card)
    return _FORMS[card]


_FORMS: dict[type[Any], type[BaseForm]] = {}


def _made(card: type[Any]) -> type[BaseForm]:
    return type(
        f"{card.__name__}Form",
        (BaseForm,),
        {"__doc__": card.__doc__, **{name: _field(ask) for name, ask in asked_of(card).items()}},
    )


def _field(ask: Ask) -> Field:
    if ask.way is not None:
        kind = TextAreaField if ask.way.is_long else StringField
        return kind(ask.label, [Length(max=LONG)], description=ask.help)
    if ask.choices or ask.kind == "part":
        return SelectField(ask.label, choices=options(ask.choices), coerce=int if ask.kind == "part" else str)
    if ask.kind == "day":
        return DateField(ask.label, [InputRequired("On which day?") if ask.needed else Optional()])
    if ask.kind == "yes":
        return BooleanField(ask.label)
    if ask.kind == "file":
        return FileField(ask.label)
    if ask.kind == "money":
        return FloatField(ask.label, [Optional(), NumberRange(ask.low, ask.high, "Nought or more.")])
    if ask.kind == "text":
        needed = DataRequired("This is missing.") if ask.needed else Optional()
        return StringField(ask.label, [needed, Length(max=SHORT)], description=ask.help)
    return QuantityField(ask.label, ask.kind, ask.low, ask.high, ask.needed, ask.help)


def begin(form: BaseForm, card: type[Any], record: Any) -> None:
    """Fill a form with a record as it would be typed."""
    for name, ask in asked_of(card).items():
        if ask.way is not None:
            form[name].data = ask.way.show(getattr(record, name), record, system())


def posted(card: type[Any], cells: Mapping[str, str], parts: Sequence[tuple[int, str]]) -> dict[str, str]:
    """Cells of a pasted row as a form would send them: words of a choice as its value, a part's name as its number, yes as a tick."""
    found = {}
    for name, text in cells.items():
        ask = asked_of(card)[name]
        known = {words.casefold(): value for value, words in ask.choices}
        known |= {words.casefold(): str(number) for number, words in parts} if ask.kind == "part" else {}
        if ask.kind == "yes":
            if text.casefold() in ("yes", "y", "x", "1", "true", "absolute"):
                found[name] = "y"
            continue
        found[name] = known.get(text.casefold(), text)
    return found
