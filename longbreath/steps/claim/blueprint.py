"""Addresses of Claim and of the public sheet."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.claim import sheet_views, views
from longbreath.web.guard import route

blueprint = Blueprint("claim", __name__, template_folder="templates")

_OF = "/applications/<int:application_id>/claim"
route(blueprint, _OF, views.overview, "view")
route(blueprint, f"{_OF}/draft", views.draft, "edit", ("POST",))
route(blueprint, f"{_OF}/approval", views.approval_status, "edit", ("POST",))
route(blueprint, f"{_OF}/<int:claim_id>", views.edit, "edit", ("POST",))
route(blueprint, f"{_OF}/<int:claim_id>/preview", sheet_views.preview, "view")
route(blueprint, f"{_OF}/<int:claim_id>/submit", views.submit, "edit", ("POST",))
route(blueprint, f"{_OF}/<int:claim_id>/return", views.give_back, "approve", ("POST",))
route(blueprint, f"{_OF}/<int:claim_id>/approve", views.approve, "approve", ("POST",))
route(blueprint, f"{_OF}/<int:claim_id>/withdraw", views.withdraw, "approve", ("GET", "POST"))
route(blueprint, "/sheet/<slug>", sheet_views.sheet, "public")
route(blueprint, "/sheet/<slug>/printed.pdf", sheet_views.printed, "public")
