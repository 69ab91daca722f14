"""Addresses of faces and fit."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.measure.faces import fit_views, views
from longbreath.web.guard import route

blueprint = Blueprint(
    "faces", __name__, url_prefix="/applications/<int:application_id>/measure", template_folder="templates"
)

BOTH = ("GET", "POST")
route(blueprint, "/faces", views.match, "view")
route(blueprint, "/faces/lay", views.keep_lay, "edit", ("POST",))
route(blueprint, "/faces/new", views.new_face, "edit", BOTH)
route(blueprint, "/faces/trace", views.trace, "edit", BOTH)
route(blueprint, "/faces/<int:face_id>", views.edit_face, "edit", BOTH)
route(blueprint, "/faces/<int:face_id>/outline.<kind>", views.export, "view")
route(blueprint, "/fit", fit_views.fit, "view")
route(blueprint, "/fit/change", fit_views.edit_fit, "edit", BOTH)
route(blueprint, "/fit/spots", fit_views.add_spot, "edit", ("POST",))
