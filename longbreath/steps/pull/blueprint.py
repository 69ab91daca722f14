"""Addresses of Pull."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.pull import cell_views, day_views, file_views, pull_views, second_views, views
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
route(blueprint, "/sessions/<int:session_id>/cell", cell_views.watch_cell, "view")
route(blueprint, "/sessions/<int:session_id>/cell/begin", cell_views.begin_cell, "edit", ("POST",))
route(blueprint, "/sessions/<int:session_id>/cell/end", cell_views.end_cell, "edit", ("POST",))
route(blueprint, "/sessions/<int:session_id>/cell/board", cell_views.cell_board_part, "view")
route(blueprint, "/sessions/<int:session_id>/cell/press", cell_views.press_cell, "edit", ("POST",))
route(blueprint, "/sessions/<int:session_id>/cell/fit", cell_views.fit_cell, "edit", ("POST",))
route(blueprint, "/sessions/<int:session_id>/cell/air", cell_views.take_air, "edit", ("POST",))
route(blueprint, "/sessions/<int:session_id>/cell/live", cell_views.live_cell, "view")
route(blueprint, "/sessions/<int:session_id>/cell/stand-in", cell_views.stand_in_cell, "edit", ("POST",))
route(blueprint, "/sessions/<int:session_id>/tuning", day_views.tune, "edit", ("GET", "POST"))
route(blueprint, "/sessions/<int:session_id>/close", day_views.close_session, "edit", ("GET", "POST"))
route(blueprint, "/sessions/<int:session_id>/open", day_views.open_session_again, "edit", ("POST",))
route(blueprint, "/sessions/<int:session_id>/day.pdf", day_views.day_sheet, "view")
route(blueprint, "/sessions/<int:session_id>/raw.<kind>", day_views.raw_session, "view")
route(blueprint, "/pulls/<int:pull_id>/raw.<kind>", day_views.raw_pull, "view")
route(blueprint, "/sessions/<int:session_id>/typed", pull_views.new_typed, "edit", ("GET", "POST"))
route(blueprint, "/typed/<int:typed_id>", pull_views.edit_typed, "edit", ("GET", "POST"))
route(blueprint, "/pulls/<int:pull_id>", pull_views.pull, "view")
route(blueprint, "/pulls/<int:pull_id>/judge", pull_views.judge, "edit", ("GET", "POST"))
route(blueprint, "/files/<int:file_id>", file_views.raw_file, "view")
route(blueprint, "/second-look", second_views.second_look, "edit", ("GET", "POST"))
