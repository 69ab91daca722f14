"""Addresses of Measure."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.measure import views
from longbreath.web.guard import route

blueprint = Blueprint(
    "measure", __name__, url_prefix="/applications/<int:application_id>/measure", template_folder="templates"
)

route(blueprint, "", views.overview, "view")
route(blueprint, "/chart.json", views.chart, "view")
route(blueprint, "/sessions/new", views.new_session, "edit", ("GET", "POST"))
route(blueprint, "/sessions/<int:session_id>", views.edit_session, "edit", ("GET", "POST"))
route(blueprint, "/traces/<int:trace_id>/desk", views.desk, "edit", ("GET", "POST"))
route(blueprint, "/traces/<int:trace_id>/section", views.set_section, "edit", ("POST",))
route(blueprint, "/readings/<int:reading_id>/exclude", views.exclude_reading, "edit", ("GET", "POST"))
route(blueprint, "/elements/new", views.new_element, "edit", ("GET", "POST"))
route(blueprint, "/elements/<int:element_id>", views.edit_element, "edit", ("GET", "POST"))
