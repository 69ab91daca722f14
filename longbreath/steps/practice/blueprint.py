"""Addresses of Practice."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.practice import views
from longbreath.web.guard import route

blueprint = Blueprint("practice", __name__, url_prefix="/practice", template_folder="templates")

route(blueprint, "", views.overview, "view")
route(blueprint, "/<desk>/new", views.new_round, "view", ("POST",))
route(blueprint, "/<desk>/<int:seed>", views.practice_round, "view", ("GET", "POST"))
route(blueprint, "/cell/<int:seed>/live", views.replay, "view")
