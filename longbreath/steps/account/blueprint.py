"""Addresses of the account pages."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.account import code_views, views
from longbreath.web.guard import route

blueprint = Blueprint("account", __name__, url_prefix="/account", template_folder="templates")

route(blueprint, "/login", views.login, "public", ("GET", "POST"))
route(blueprint, "/choose/<key>", views.choose, "public", ("GET", "POST"))
route(blueprint, "/password", views.password, "view", ("GET", "POST"))
route(blueprint, "/code", code_views.code, "view", ("GET", "POST"))
route(blueprint, "/logout", views.logout, "view", ("POST",))
route(blueprint, "/units/<system>", views.set_units, "view", ("POST",))
route(blueprint, "/theme/<name>", views.set_theme, "view", ("POST",))
route(blueprint, "/understood", views.understood, "view")
route(blueprint, "/people", views.people, "admin", ("GET", "POST"))
route(blueprint, "/people/<int:user_id>/link", views.make_link, "admin", ("POST",))
route(blueprint, "/people/<int:user_id>/active", views.toggle_active, "admin", ("POST",))
