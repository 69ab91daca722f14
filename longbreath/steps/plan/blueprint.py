"""Addresses of Plan."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.plan import views
from longbreath.web.guard import route

blueprint = Blueprint(
    "plan", __name__, url_prefix="/applications/<int:application_id>/plan", template_folder="templates"
)

route(blueprint, "", views.overview, "view")
route(blueprint, "/card", views.edit_card, "edit", ("GET", "POST"))
