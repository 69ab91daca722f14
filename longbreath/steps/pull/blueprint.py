"""Addresses of Pull."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.pull import views
from longbreath.web.guard import route

blueprint = Blueprint(
    "pull", __name__, url_prefix="/applications/<int:application_id>/pull", template_folder="templates"
)

route(blueprint, "", views.overview, "view")
route(blueprint, "/sessions/new", views.new_session, "edit", ("GET", "POST"))
route(blueprint, "/sessions/<int:session_id>", views.edit_session, "edit", ("GET", "POST"))
route(blueprint, "/sessions/<int:session_id>/files", views.receive, "edit", ("POST",))
route(blueprint, "/sessions/<int:session_id>/mapping", views.mapping, "edit", ("GET", "POST"))
route(blueprint, "/sessions/<int:session_id>/chart.json", views.chart, "view")
route(blueprint, "/pulls/<int:pull_id>/judge", views.judge, "edit", ("GET", "POST"))
route(blueprint, "/files/<int:file_id>", views.raw_file, "view")
