"""Forms of the account pages."""

from __future__ import annotations

from typing import Any

from wtforms import EmailField, HiddenField, PasswordField, SelectField, StringField
from wtforms.validators import DataRequired, EqualTo, Length

from longbreath.dossier.passwords import LONGEST
from longbreath.store.models import ROLES
from longbreath.web.forms import BaseForm, options

MISSING = "This is missing."


def _password(label: str, is_new: bool = False, *more: Any, **keywords: Any) -> PasswordField:
    too_long = Length(max=LONGEST, message=f"Use {LONGEST} characters or fewer.")
    kind = "new-password" if is_new else "current-password"
    return PasswordField(label, [DataRequired(MISSING), too_long, *more], render_kw={"autocomplete": kind}, **keywords)


def _again() -> PasswordField:
    return _password("The same once more", True, EqualTo("new", "The two are not the same."))


HELP = "ten characters or more; three or four words make a good one"


class LoginForm(BaseForm):
    """Mail address and password."""

    email = EmailField(
        "Mail address",
        [DataRequired("Write your mail address."), Length(max=200, message="This is no mail address.")],
        render_kw={"autocomplete": "username"},
    )
    password = _password("Password")
    then = HiddenField()


class CodeForm(BaseForm):
    """The first one-time code of a new secret, with the password: whoever finds a browser open sets up nothing."""

    secret = HiddenField()
    password = _password("Your password")
    code = StringField(
        "Code that the telephone shows now",
        [DataRequired(MISSING), Length(max=12)],
        render_kw={"autocomplete": "one-time-code", "inputmode": "numeric"},
    )


class PersonForm(BaseForm):
    """A new person."""

    name = StringField("Name", [DataRequired(MISSING), Length(max=80)])
    email = EmailField("Mail address", [DataRequired(MISSING), Length(max=120)])
    role = SelectField("Role", choices=options([(role, role) for role in ROLES]))
    password = _password("First password", True, description=HELP)


class PasswordForm(BaseForm):
    """One's own password, anew."""

    old = _password("Present password")
    new = _password("New password", True, description=HELP)
    again = _again()


class ChooseForm(BaseForm):
    """A new password by a one-time link."""

    new = _password("New password", True, description=HELP)
    again = _again()
