"""Addresses of coverage."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.coverage import views
from longbreath.web.guard import route

blueprint = Blueprint("coverage", __name__, template_folder="templates")

route(blueprint, "/", views.home, "view")
route(blueprint, "/coverage.csv", views.export, "view")
route(blueprint, "/views", views.keep_view, "view", ("POST",))
route(blueprint, "/views/<int:view_id>/forget", views.forget_view, "view", ("POST",))
route(blueprint, "/tour", views.tour, "view")
route(blueprint, "/tour/go", views.tour_go, "view", ("POST",))
route(blueprint, "/find", views.find, "view")
route(blueprint, "/applications/new", views.new_application, "edit", ("GET", "POST"))
route(blueprint, "/applications/<int:application_id>", views.application, "view")
