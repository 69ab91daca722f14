"""Addresses of Pull."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.pull import file_views, pull_views, views
from longbreath.web.guard import route

blueprint = Blueprint(
    "pull", __name__, url_prefix="/applications/<int:application_id>/pull", template_folder="templates"
)

route(blueprint, "", views.overview, "view")
route(blueprint, "/sessions/new", views.new_session, "edit", ("GET", "POST"))
route(blueprint, "/sessions/<int:session_id>", views.edit_session, "edit", ("GET", "POST"))
route(blueprint, "/sessions/<int:session_id>/chart.json", views.chart, "view")
route(blueprint, "/sessions/<int:session_id>/conditions", views.ask_conditions, "edit", ("GET", "POST"))
route(blueprint, "/sessions/<int:session_id>/files", file_views.receive, "edit", ("POST",))
route(blueprint, "/sessions/<int:session_id>/mapping", file_views.mapping, "edit", ("GET", "POST"))
route(blueprint, "/sessions/<int:session_id>/stop", file_views.stop_task, "edit", ("POST",))
route(blueprint, "/sessions/<int:session_id>/sources/<fingerprint>", file_views.correct_source, "edit", ("GET", "POST"))
route(blueprint, "/sessions/<int:session_id>/typed", pull_views.new_typed, "edit", ("GET", "POST"))
route(blueprint, "/typed/<int:typed_id>", pull_views.edit_typed, "edit", ("GET", "POST"))
route(blueprint, "/pulls/<int:pull_id>", pull_views.pull, "view")
route(blueprint, "/pulls/<int:pull_id>/judge", pull_views.judge, "edit", ("GET", "POST"))
route(blueprint, "/files/<int:file_id>", file_views.raw_file, "view")
