"""Addresses of Reckon and of the quick reckoner."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.reckon import views
from longbreath.web.guard import route

blueprint = Blueprint("reckon", __name__, template_folder="templates")

route(blueprint, "/applications/<int:application_id>/reckon", views.overview, "view")
route(blueprint, "/applications/<int:application_id>/reckon/demand.json", views.demand_chart, "view")
route(blueprint, "/applications/<int:application_id>/reckon/prediction", views.predict, "edit", ("POST",))
route(blueprint, "/reckoner", views.reckoner, "view")
route(blueprint, "/reckoner/<name>", views.quick, "view")
route(blueprint, "/api/reckon", views.api_list, "public")
route(blueprint, "/api/reckon/<name>", views.api, "public")
