"""Addresses of the sentence register."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.words import views
from longbreath.web.guard import route

blueprint = Blueprint("words", __name__, template_folder="templates")

route(blueprint, "/words", views.overview, "view")
route(blueprint, "/words/add", views.add, "edit", ("POST",))
route(blueprint, "/words/all", views.catalogue, "view")
route(blueprint, "/words/all.csv", views.catalogue_csv, "view")
route(blueprint, "/words/<int:text_id>", views.text, "view")
route(blueprint, "/words/<int:text_id>/sentences.csv", views.text_csv, "view")
