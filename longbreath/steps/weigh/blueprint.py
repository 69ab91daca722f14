"""Addresses of Weigh."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.weigh import more_views, views
from longbreath.web.guard import route

blueprint = Blueprint(
    "weigh", __name__, url_prefix="/applications/<int:application_id>/weigh", template_folder="templates"
)

BOTH = ("GET", "POST")
route(blueprint, "", views.overview, "view")
route(blueprint, "/chart.json", views.chart, "view")
route(blueprint, "/picture.<kind>", views.picture, "view")
route(blueprint, "/table", views.table, "view")
route(blueprint, "/differences", more_views.differences, "edit", BOTH)
route(blueprint, "/stack", more_views.stack, "view")
route(blueprint, "/boost", more_views.boost, "view")
route(blueprint, "/boost/chart.json", more_views.boost_chart, "view")
route(blueprint, "/several", more_views.several, "view")
route(blueprint, "/several/weights", more_views.declare, "edit", BOTH)
route(blueprint, "/several/chart.json", more_views.several_chart, "view")
route(blueprint, "/kits", more_views.kits, "view")
route(blueprint, "/kits/edit", more_views.edit_kit, "edit", BOTH)
route(blueprint, "/trials", more_views.trials, "view")
