"""Addresses of the bench."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.measure.bench import live_views, sheet_views, views
from longbreath.web.guard import route

blueprint = Blueprint(
    "bench", __name__, url_prefix="/applications/<int:application_id>/measure", template_folder="templates"
)

BOTH = ("GET", "POST")
route(blueprint, "/sessions/new", views.new_session, "edit", BOTH)
route(blueprint, "/sessions/<int:session_id>", views.session, "view")
route(blueprint, "/sessions/<int:session_id>/change", views.edit_session, "edit", BOTH)
route(blueprint, "/sessions/<int:session_id>/traces/new", views.new_trace, "edit", BOTH)
route(blueprint, "/fixtures/new", views.new_fixture, "edit", BOTH)
route(blueprint, "/fixtures/<int:fixture_id>", views.edit_fixture, "edit", BOTH)
route(blueprint, "/traces/<int:trace_id>", views.edit_trace, "edit", BOTH)
route(blueprint, "/traces/<int:trace_id>/section", views.set_section, "edit", ("POST",))
route(blueprint, "/readings/<int:reading_id>/exclude", views.exclude_reading, "edit", BOTH)
route(blueprint, "/traces/<int:trace_id>/desk", live_views.desk, "edit", BOTH)
route(blueprint, "/traces/<int:trace_id>/live", live_views.live, "edit")
route(blueprint, "/traces/<int:trace_id>/capture", live_views.capture, "edit", ("POST",))
route(blueprint, "/traces/<int:trace_id>/take-back", live_views.take_back, "edit", ("POST",))
route(blueprint, "/traces/<int:trace_id>/stand-in", live_views.stand_in, "edit", ("POST",))
route(blueprint, "/sessions/<int:session_id>/sheets", sheet_views.receive, "edit", ("POST",))
route(blueprint, "/sheets/<int:sheet_id>", sheet_views.sheet, "edit", BOTH)
route(blueprint, "/sheets/<int:sheet_id>/raw", sheet_views.raw, "view")
route(blueprint, "/sessions/<int:session_id>/readings.<kind>", sheet_views.export, "view")
route(blueprint, "/sessions/<int:session_id>/sheet.pdf", sheet_views.printed, "view")
