"""Addresses of curves."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.measure.curves import views
from longbreath.web.guard import route

blueprint = Blueprint(
    "curves", __name__, url_prefix="/applications/<int:application_id>/measure", template_folder="templates"
)

route(blueprint, "/curves", views.compare, "view")
route(blueprint, "/stacks", views.stacks, "view")
route(blueprint, "/parts", views.parts, "view")
