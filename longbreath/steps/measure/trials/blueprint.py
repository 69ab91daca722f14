"""Addresses of trials."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.measure.trials import views
from longbreath.web.guard import route

blueprint = Blueprint(
    "trials", __name__, url_prefix="/applications/<int:application_id>/measure/trials", template_folder="templates"
)

BOTH = ("GET", "POST")
route(blueprint, "", views.trials, "view")
route(blueprint, "/new/<kind>", views.new_trial, "edit", BOTH)
route(blueprint, "/<int:trial_id>", views.trial, "view")
route(blueprint, "/<int:trial_id>/correct", views.correct_trial, "edit", BOTH)
