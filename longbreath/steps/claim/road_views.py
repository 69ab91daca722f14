"""Road use of a part on a vehicle, what its sheets say besides, and the register of all certificates."""

from __future__ import annotations

from typing import Any

from flask import redirect, url_for

from longbreath.core.claim.gates.house import NOTES
from longbreath.dossier.claim import house, reads
from longbreath.dossier.claim import road as roads
from longbreath.dossier.claim.verbs import state_approval
from longbreath.dossier.records.house import notes_of
from longbreath.dossier.records.road import certificate_for_core, certificates_of, register_of, road_of, vehicles_of
from longbreath.steps.claim import forms
from longbreath.store.models import Application
from longbreath.web.guard import load_application
from longbreath.web.page import page
from longbreath.web.saving import Saved, save
from longbreath.web.transaction import db


def road(application_id: int) -> Any:
    """What is stated of road use, certificates, vehicles, and what the sheet says besides."""
    return _shown(load_application(application_id), Saved(False))


def _shown(application: Application, saved: Saved, **sent: Any) -> Any:
    notes = notes_of(db(), application.id)
    status = forms.RoadForm(formdata=None, obj=application, data={"tampering": notes.get("tampering", "")})
    status.version.data = str(application.version)
    day = reads.day_of(db())
    made: dict[str, Any] = {
        "status_form": status,
        "certificate_form": forms.CertificateForm(formdata=None),
        "vehicle_form": forms.VehicleForm(formdata=None),
        "notes_form": forms.NotesForm(formdata=None, data=notes),
        **sent,
    }
    return page(
        "claim/road.html",
        road=road_of(db(), application, day),
        certificates=[(row, certificate_for_core(row)) for row in certificates_of(db(), application.id)],
        vehicles=vehicles_of(db(), application.id),
        day=day,
        conflict=saved.conflict,
        status=saved.status,
        **made,
    )


def _back(application: Application) -> Any:
    return redirect(url_for("claim.road", application_id=application.id))


def road_status(application_id: int) -> Any:
    """State whether the part is approved for road use, and what it does to emission devices."""
    application, form = load_application(application_id), forms.RoadForm()

    def write() -> None:
        house.write_notes(db(), application, house.NotesCard(tampering=form.tampering.data))
        state_approval(db(), application, form.approval.data, form.approval_note.data or "")

    saved = save(form, application, write)
    return _back(application) if saved.done else _shown(application, saved, status_form=form)


def certificate(application_id: int) -> Any:
    """Write down a certificate."""
    application, form = load_application(application_id), forms.CertificateForm()
    saved = save(form, None, lambda: roads.add_certificate(db(), application, form.command(roads.CertificateCard)))
    return _back(application) if saved.done else _shown(application, saved, certificate_form=form)


def vehicle(application_id: int) -> Any:
    """Say whether the evidence covers a vehicle."""
    application, form = load_application(application_id), forms.VehicleForm()
    saved = save(form, None, lambda: roads.cover_vehicle(db(), application, form.command(roads.VehicleCard)))
    return _back(application) if saved.done else _shown(application, saved, vehicle_form=form)


def notes(application_id: int) -> Any:
    """Write what a sheet says of the part besides."""
    application, form = load_application(application_id), forms.NotesForm()

    def write() -> None:
        words = {name: form[name].data or "" for name in NOTES}
        tampering = notes_of(db(), application.id).get("tampering", "")
        house.write_notes(db(), application, house.NotesCard(words, tampering))

    saved = save(form, None, write)
    return _back(application) if saved.done else _shown(application, saved, notes_form=form)


def register() -> Any:
    """All certificates of the house, by part and vehicle, those that run out first."""
    return page("claim/register.html", rows=register_of(db()), day=reads.day_of(db()))
