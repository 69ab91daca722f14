"""Form of a new application."""

from __future__ import annotations

from wtforms import HiddenField, SelectField, StringField
from wtforms.validators import DataRequired, Length

from longbreath.web.forms import BaseForm


class ApplicationForm(BaseForm):
    """One product revision on one vehicle, against a stock part."""

    vehicle_id = SelectField("Vehicle", coerce=int)
    revision_id = SelectField("Product and revision (B)", coerce=int)
    stock_revision_id = SelectField("Stock part it is measured against (A)", coerce=int)


class ViewForm(BaseForm):
    """A name for a way of looking."""

    name = StringField("Name of this view", [DataRequired("Give this view a name."), Length(max=60)])
    query = HiddenField()
