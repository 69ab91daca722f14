"""Addresses of build sheets."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.measure.builds import views
from longbreath.web.guard import route

blueprint = Blueprint(
    "builds", __name__, url_prefix="/applications/<int:application_id>/measure/builds", template_folder="templates"
)

BOTH = ("GET", "POST")
route(blueprint, "", views.sheets, "view")
route(blueprint, "/new", views.new_sheet, "edit", BOTH)
route(blueprint, "/<int:sheet_id>", views.sheet, "view")
route(blueprint, "/<int:sheet_id>/next", views.next_version, "edit", BOTH)
route(blueprint, "/<int:sheet_id>/confirm", views.confirm, "edit", ("POST",))
route(blueprint, "/headroom", views.headroom, "view")
