"""Addresses of Claim: drafts, gates, reviews, approval, road use, rules of the house."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.claim import acts, house_views, road_views, views
from longbreath.web.guard import route

blueprint = Blueprint("claim", __name__, template_folder="templates")

_OF = "/applications/<int:application_id>/claim"
_ONE = f"{_OF}/<int:claim_id>"
route(blueprint, _OF, views.overview, "view")
route(blueprint, f"{_OF}/draft", views.draft, "edit", ("POST",))
route(blueprint, _ONE, views.edit, "edit", ("POST",))
route(blueprint, f"{_ONE}/miles", views.miles, "edit", ("POST",))
route(blueprint, f"{_ONE}/preview", views.preview, "view")
route(blueprint, f"{_ONE}/comment", acts.comment, "edit", ("POST",))
route(blueprint, f"{_ONE}/submit", acts.submit, "edit", ("POST",))
route(blueprint, f"{_ONE}/return", acts.give_back, "approve", ("POST",))
route(blueprint, f"{_ONE}/approve", acts.approve, "approve", ("POST",))
route(blueprint, f"{_ONE}/withdraw", acts.withdraw, "approve", ("GET", "POST"))
route(blueprint, f"{_ONE}/bundle", acts.bundle_again, "approve", ("POST",))
route(blueprint, f"{_OF}/road", road_views.road, "view")
route(blueprint, f"{_OF}/road/status", road_views.road_status, "edit", ("POST",))
route(blueprint, f"{_OF}/road/certificate", road_views.certificate, "edit", ("POST",))
route(blueprint, f"{_OF}/road/vehicle", road_views.vehicle, "edit", ("POST",))
route(blueprint, f"{_OF}/road/notes", road_views.notes, "edit", ("POST",))
route(blueprint, "/approvals", road_views.register, "view")
route(blueprint, "/claims/rules", house_views.rules, "admin", ("GET", "POST"))
route(blueprint, "/claims/key", house_views.new_key, "admin", ("POST",))
route(blueprint, "/claims/kinds", house_views.kinds, "view")
route(blueprint, "/claims/moved", house_views.moved, "view")
