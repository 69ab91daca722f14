"""Addresses of the programme."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.programme import calendar_views, views
from longbreath.web.guard import route

blueprint = Blueprint("programme", __name__, template_folder="templates")

route(blueprint, "/programme", views.overview, "view")
route(blueprint, "/programme/owed", views.owed_things, "view")
route(blueprint, "/programme/owed/new", views.new_owed, "edit", ("GET", "POST"))
route(blueprint, "/programme/owed/<int:owed_id>", views.edit_owed, "edit", ("GET", "POST"))
route(blueprint, "/programme/owed/<int:owed_id>/close", views.close_owed, "edit", ("POST",))
route(blueprint, "/programme/owed/<int:owed_id>/reopen", views.reopen_owed, "edit", ("POST",))
route(blueprint, "/programme/look/<int:application_id>", views.look_through, "edit", ("POST",))
route(blueprint, "/programme/calendar", calendar_views.my_calendar, "view", ("GET", "POST"))
route(blueprint, "/programme/calendar/revoke", calendar_views.revoke_calendar, "view", ("POST",))
route(blueprint, "/programme/calendar.ics", calendar_views.download_calendar, "view")
route(blueprint, "/calendar/<key>.ics", calendar_views.feed, "public")
route(blueprint, "/programme/work", calendar_views.background_work, "view")
route(blueprint, "/programme/work/<int:task_id>/stop", calendar_views.stop_work, "edit", ("POST",))
