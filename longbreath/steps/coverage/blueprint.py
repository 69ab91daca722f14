"""Addresses of coverage."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.coverage import views
from longbreath.web.guard import route

blueprint = Blueprint("coverage", __name__, template_folder="templates")

route(blueprint, "/", views.home, "view")
route(blueprint, "/tour", views.tour, "view")
route(blueprint, "/find", views.find, "view")
route(blueprint, "/applications/new", views.new_application, "edit", ("GET", "POST"))
route(blueprint, "/applications/<int:application_id>", views.application, "view")
