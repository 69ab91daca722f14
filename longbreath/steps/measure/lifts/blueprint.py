"""Addresses of Measure."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.measure.lifts import views
from longbreath.web.guard import route

blueprint = Blueprint(
    "measure", __name__, url_prefix="/applications/<int:application_id>/measure", template_folder="templates"
)

route(blueprint, "", views.overview, "view")
