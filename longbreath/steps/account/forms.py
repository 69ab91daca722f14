"""Forms of the account pages."""

from __future__ import annotations

from wtforms import EmailField, HiddenField, PasswordField, SelectField, StringField
from wtforms.validators import DataRequired, Length

from longbreath.store.models import ROLES
from longbreath.web.forms import BaseForm, options


class LoginForm(BaseForm):
    """Mail address and password."""

    email = EmailField(
        "Mail address", [DataRequired("Write your mail address.")], render_kw={"autocomplete": "username"}
    )
    password = PasswordField(
        "Password", [DataRequired("Write your password.")], render_kw={"autocomplete": "current-password"}
    )
    then = HiddenField()


class PersonForm(BaseForm):
    """A new person."""

    name = StringField("Name", [DataRequired("This is missing."), Length(max=80)])
    email = EmailField("Mail address", [DataRequired("This is missing."), Length(max=120)])
    role = SelectField("Role", choices=options([(role, role) for role in ROLES]))
    password = PasswordField(
        "First password",
        [DataRequired("This is missing."), Length(min=10, message="Use ten characters or more.")],
        render_kw={"autocomplete": "new-password"},
    )
