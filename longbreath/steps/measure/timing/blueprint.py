"""Addresses of timing."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.measure.timing import ladder_views, views
from longbreath.web.guard import route

blueprint = Blueprint(
    "timing", __name__, url_prefix="/applications/<int:application_id>/measure/timing", template_folder="templates"
)

BOTH = ("GET", "POST")
route(blueprint, "", views.wheel, "view")
route(blueprint, "/new", views.new_sheet, "edit", BOTH)
route(blueprint, "/<int:sheet_id>", views.sheet, "view")
route(blueprint, "/<int:sheet_id>/again", views.read_again, "edit", BOTH)
route(blueprint, "/ladder", ladder_views.ladder, "view")
route(blueprint, "/ladder/new", ladder_views.new_rung, "edit", BOTH)
route(blueprint, "/ladder/<int:rung_id>", ladder_views.edit_rung, "edit", BOTH)
