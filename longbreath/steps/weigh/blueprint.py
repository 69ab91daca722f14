"""Addresses of Weigh."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.weigh import views
from longbreath.web.guard import route

blueprint = Blueprint(
    "weigh", __name__, url_prefix="/applications/<int:application_id>/weigh", template_folder="templates"
)

route(blueprint, "", views.overview, "view")
route(blueprint, "/differences", views.differences, "edit", ("GET", "POST"))
route(blueprint, "/chart.json", views.chart, "view")
