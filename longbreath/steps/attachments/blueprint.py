"""Addresses of attachments."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.attachments import views
from longbreath.web.guard import route

blueprint = Blueprint(
    "attachments", __name__, url_prefix="/applications/<int:application_id>/attachments", template_folder="templates"
)

route(blueprint, "/<kind>/<int:record_id>", views.add, "edit", ("POST",))
route(blueprint, "/<int:attachment_id>", views.original, "view")
route(blueprint, "/<int:attachment_id>/thumbnail", views.thumbnail, "view")
route(blueprint, "/<int:attachment_id>/put-away", views.put_away, "edit", ("GET", "POST"))
