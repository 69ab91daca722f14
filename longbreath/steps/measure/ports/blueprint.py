"""Addresses of ports."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.measure.ports import views
from longbreath.web.guard import route

blueprint = Blueprint(
    "ports", __name__, url_prefix="/applications/<int:application_id>/measure", template_folder="templates"
)

BOTH = ("GET", "POST")
route(blueprint, "/maps", views.maps, "view")
route(blueprint, "/maps/new", views.new_map, "edit", BOTH)
route(blueprint, "/maps/<int:traverse_id>", views.walk, "view")
route(blueprint, "/maps/<int:traverse_id>/points", views.add_point, "edit", ("POST",))
route(blueprint, "/porting", views.jobs, "view")
route(blueprint, "/porting/new", views.new_job, "edit", BOTH)
route(blueprint, "/porting/<int:job_id>/change", views.edit_job, "edit", BOTH)
route(blueprint, "/porting/<int:job_id>", views.job, "view")
route(blueprint, "/porting/<int:job_id>/bouts", views.add_bout, "edit", ("POST",))
