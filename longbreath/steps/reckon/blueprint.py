"""Addresses of Reckon, of the quick reckoner, and of what Reckon keeps over all applications."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.reckon import candidate_views, path_views, prediction_views, reckoner_views, views
from longbreath.web.guard import route

blueprint = Blueprint("reckon", __name__, template_folder="templates")

ONE = "/applications/<int:application_id>/reckon"

route(blueprint, ONE, views.overview, "view")
route(blueprint, f"{ONE}/ask/<key>", views.ask, "view")
route(blueprint, f"{ONE}/ask/<key>/keep", views.keep, "edit", ("POST",))
route(blueprint, f"{ONE}/target", views.target, "edit", ("GET", "POST"))
route(blueprint, f"{ONE}/sections", path_views.sections, "view")
route(blueprint, f"{ONE}/bores", path_views.bores, "view")
route(blueprint, f"{ONE}/candidates", candidate_views.table, "view")
route(blueprint, f"{ONE}/candidates/new", candidate_views.new_candidate, "edit", ("GET", "POST"))
route(blueprint, f"{ONE}/candidates/<int:candidate_id>", candidate_views.edit_candidate, "edit", ("GET", "POST"))
route(blueprint, f"{ONE}/candidates/<int:candidate_id>/out", candidate_views.candidate_out, "edit", ("GET", "POST"))
route(blueprint, f"{ONE}/predictions", prediction_views.predictions, "view")
route(blueprint, f"{ONE}/predictions/<quantity>/draw", prediction_views.draw, "edit", ("GET", "POST"))
route(blueprint, f"{ONE}/predictions/school", prediction_views.school, "edit", ("GET", "POST"))
route(blueprint, "/predictions", prediction_views.board, "view")
route(blueprint, "/timings", path_views.timings, "view")
route(blueprint, "/reckoner", reckoner_views.reckoner, "view")
route(blueprint, "/reckoner/<name>", reckoner_views.quick, "view")
route(blueprint, "/api/reckon", reckoner_views.api_list, "public")
route(blueprint, "/api/reckon/<name>", reckoner_views.api, "public")
