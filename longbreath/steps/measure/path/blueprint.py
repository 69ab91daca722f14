"""Addresses of the path."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.measure.path import element_views, views
from longbreath.web.guard import route

blueprint = Blueprint(
    "path", __name__, url_prefix="/applications/<int:application_id>/measure/path", template_folder="templates"
)

BOTH = ("GET", "POST")
route(blueprint, "", views.section, "view")
route(blueprint, "/keep", views.keep_trial, "edit", ("POST",))
route(blueprint, "/elements/new", element_views.new_element, "edit", BOTH)
route(blueprint, "/elements/<int:element_id>", element_views.edit_element, "edit", BOTH)
route(blueprint, "/elements/<int:element_id>/readings", element_views.readings, "view")
route(blueprint, "/elements/<int:element_id>/readings/add", element_views.add_readings, "edit", ("POST",))
route(blueprint, "/elements/<int:element_id>/out", element_views.take_out, "edit", BOTH)
route(blueprint, "/elements/<int:element_id>/back", element_views.bring_back, "edit", ("POST",))
