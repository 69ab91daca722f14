"""Addresses of Measure."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.measure import views
from longbreath.web.guard import route

blueprint = Blueprint(
    "measure", __name__, url_prefix="/applications/<int:application_id>/measure", template_folder="templates"
)

route(blueprint, "", views.overview, "view")
route(blueprint, "/elements/new", views.new_element, "edit", ("GET", "POST"))
route(blueprint, "/elements/<int:element_id>", views.edit_element, "edit", ("GET", "POST"))
