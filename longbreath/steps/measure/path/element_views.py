"""Views of one element: its sizes, its readings, and taking it out of the path."""

from __future__ import annotations

from typing import Any

from flask import flash, redirect, url_for

from longbreath.core.basis.working import Figure
from longbreath.core.path.kinds import KINDS
from longbreath.dossier.attachments import attached
from longbreath.dossier.path import verbs as path_verbs
from longbreath.dossier.path.elements import SYMBOLS, area_figure, batch_of, elements_of, readings_figures, size_names
from longbreath.dossier.path.faces import faces_of
from longbreath.steps.measure.path import forms
from longbreath.store.models import Application, Element
from longbreath.web.forms import options
from longbreath.web.guard import load_application, load_part
from longbreath.web.letters import BOTH, offer_letters
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def _element_page(application: Application, element: Element | None) -> Any:
    form = forms.ElementForm(obj=element)
    offer_letters(form.belongs_to, application, BOTH)
    faces = faces_of(db(), application.id)
    form.face_id.choices = options([(0, "none"), *((f.id, f.name) for f in faces)])
    if element is None and not form.is_submitted():
        there = elements_of(db(), application.id)
        form.position.data = max((e.position for e in there), default=0) + 1
        form.side.data = there[-1].side if there else application.product.side
    if element is not None and element.kind not in KINDS:
        form.kind.choices = [element.kind, *KINDS]

    def put() -> Element:
        traced = form.shape.data == "outline"
        outline = path_verbs.outline_of(db(), application, form.face_id.data, element) if traced else None
        card = form.command(path_verbs.ElementCard, outline=outline)
        return path_verbs.save_element(db(), application, element, card)

    saved = save(form, element, put)
    if saved.done:
        flash(f"{saved.result.name} is measured. The next one?", "done")
        return redirect(url_for("path.section", application_id=application.id, element=saved.result.id))
    figures = {"area": area_figure(element)} if element is not None else {}
    return page(
        "path/element.html",
        figures,
        form=form,
        element=element,
        conflict=saved.conflict,
        status=saved.status,
        attachments=attached(db(), element) if element is not None else None,
    )


def new_element(application_id: int) -> Any:
    """Add an element of the path."""
    return _element_page(load_application(application_id), None)


def edit_element(application_id: int, element_id: int) -> Any:
    """Change an element of the path."""
    application = load_application(application_id)
    return _element_page(application, load_part(Element, element_id, application))


def readings(application_id: int, element_id: int) -> Any:
    """The readings of an element's sizes: mean, ovality, how good."""
    application = load_application(application_id)
    element = load_part(Element, element_id, application)
    return _readings_page(element, forms.ReadingsForm())


def add_readings(application_id: int, element_id: int) -> Any:
    """Record several readings of one size."""
    application = load_application(application_id)
    element = load_part(Element, element_id, application)
    form = forms.ReadingsForm()
    _offer(form, element)

    def add() -> Any:
        readings = form.command(path_verbs.SizeReadings, taken=form.taken())
        return path_verbs.add_readings(db(), element, readings)

    saved = save(form, None, add)
    if saved.done:
        return redirect(url_for("path.readings", application_id=application.id, element_id=element.id))
    return _readings_page(element, form, saved.status)


def _offer(form: forms.ReadingsForm, element: Element) -> tuple[str, ...]:
    """Offer the sizes of an element; returns their names."""
    names = (*size_names(element), "length", *(("exit_diameter",) if element.exit_diameter else ()))
    form.size.choices = options((name, SYMBOLS[name][1]) for name in names)
    return names


def _readings_page(element: Element, form: forms.ReadingsForm, status: int = 200) -> Any:
    names = _offer(form, element)
    if not form.is_submitted() and element.readings:
        last = element.readings[-1]
        form.tool.data, form.precision.data = last.tool, last.precision
    figures: dict[str, Figure] = {"area": area_figure(element)}
    sizes = [name for name in names if batch_of(element, name)]
    for name in sizes:
        found = readings_figures(element, name)
        figures |= {f"{name}-{f.name}": f for f in (found.mean, found.ovality, found.out_of_round) if f is not None}
    earlier = [r for r in element.readings if r not in batch_of(element, r.size)]
    read = [(name, SYMBOLS[name][1], batch_of(element, name)) for name in sizes]
    return page(
        "path/readings.html",
        figures,
        element=element,
        form=form,
        sizes=read,
        earlier=earlier,
        meanings=SYMBOLS,
        status=status,
    )


def take_out(application_id: int, element_id: int) -> Any:
    """Take an element out of the path, with the reason."""
    application = load_application(application_id)
    element = load_part(Element, element_id, application)
    form = forms.OutForm()
    saved = save(form, element, lambda: path_verbs.take_out(db(), element, form.out_reason.data))
    if saved.done:
        return redirect(url_for("path.section", application_id=application.id))
    return page("path/out.html", form=form, element=element, conflict=saved.conflict, status=saved.status)


def bring_back(application_id: int, element_id: int) -> Any:
    """Bring an element back into the path."""
    application = load_application(application_id)
    element = load_part(Element, element_id, application)
    path_verbs.bring_back(db(), element)
    return redirect(url_for("path.section", application_id=application.id, element=element.id))
