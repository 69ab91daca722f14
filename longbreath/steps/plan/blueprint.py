"""Addresses of Plan."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.plan import card_views, views
from longbreath.web.guard import route

blueprint = Blueprint(
    "plan", __name__, url_prefix="/applications/<int:application_id>/plan", template_folder="templates"
)

route(blueprint, "", views.overview, "view")
route(blueprint, "/card", views.edit_card, "edit", ("GET", "POST"))
route(blueprint, "/variants", views.all_variants, "view")
route(blueprint, "/variants/new", views.new_variant, "edit", ("GET", "POST"))
route(blueprint, "/variants/<int:variant_id>", views.edit_variant, "edit", ("GET", "POST"))
route(blueprint, "/cards/<int:card_id>/print", card_views.print_card, "view")
route(blueprint, "/cards/<int:card_id>/checklist", card_views.checklist, "edit", ("GET", "POST"))
route(blueprint, "/cards/<int:card_id>/day", card_views.day, "view")
route(blueprint, "/cards/<int:card_id>/forecast", card_views.forecast, "view")
route(blueprint, "/cards/<int:card_id>/forecast/ask", card_views.ask_forecast, "edit", ("POST",))
route(blueprint, "/cards/<int:card_id>/forecast/stop", card_views.stop_forecast, "edit", ("POST",))
