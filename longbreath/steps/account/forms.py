"""Forms of the account pages."""

from __future__ import annotations

from wtforms import EmailField, HiddenField, PasswordField, SelectField, StringField
from wtforms.validators import InputRequired, Length

from longbreath.store.models import ROLES
from longbreath.web.forms import BaseForm, options


class LoginForm(BaseForm):
    """Mail address and password."""

    email = EmailField("Mail address", [InputRequired("Write your mail address.")])
    password = PasswordField("Password", [InputRequired("Write your password.")])
    then = HiddenField()


class PersonForm(BaseForm):
    """A new person."""

    name = StringField("Name", [InputRequired("This is missing."), Length(max=80)])
    email = EmailField("Mail address", [InputRequired("This is missing."), Length(max=120)])
    role = SelectField("Role", choices=options([(role, role) for role in ROLES]))
    password = PasswordField(
        "First password",
        [InputRequired("This is missing."), Length(min=10, message="Use ten characters or more.")],
    )
