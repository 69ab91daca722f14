"""Views of faces: lay two over each other, take a face by sizes, file or photo, export it."""

from __future__ import annotations

from typing import Any

from flask import Response, abort, flash, redirect, request, url_for

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.bench import traverse
from longbreath.core.path import faces
from longbreath.dossier.attachments import attached
from longbreath.dossier.path import faces as path_faces
from longbreath.formats import outline as files
from longbreath.formats.filename import clean_name
from longbreath.steps.measure.faces import forms, picture
from longbreath.store.models import Application, Face, FaceLay
from longbreath.web.forms import options, system
from longbreath.web.guard import load_application, load_part
from longbreath.web.letters import BOTH, offer_letters
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db

WRITERS = {
    "svg": (files.write_svg, "image/svg+xml"),
    "dxf": (files.write_dxf, "image/vnd.dxf"),
    "csv": (files.write_points, "text/csv"),
}

PHOTO_PRECISION = 0.0003
"""How well a rim is known that was picked on a photo [m] (common practice, no source)."""
KEYS = (("← → ↑ ↓", "on the heavy face: move it by 0.1 mm"), ("Enter", "on the heavy face: lay it over"))


def _form(found: list[Face], lays: list[FaceLay], side: str) -> forms.LayForm:
    """The lay asked for; else the newest one kept; else the product's face and the engine's, in the order of the flow."""
    asked = "upstream" in request.args
    form = forms.LayForm(request.args if asked else None)
    names = options([(f.id, f.name) for f in found])
    form.upstream.choices = form.downstream.choices = names
    if asked or len(found) < 2:
        return form
    if lays:
        last = lays[0]
        form.upstream.data, form.downstream.data = last.upstream_id, last.downstream_id
        for field, value, good_to in (
            (form.right, last.right, 5e-5),
            (form.up, last.up, 5e-5),
            (form.turn, last.turn, 1e-3),
        ):
            field.data, field.raw = value, units.show_number(value, field.kind, system(), good_to)
        return form
    part = next((f for f in found if f.belongs_to == "B"), found[0])
    others = [f for f in found if f is not part]
    engine = next((f for f in others if f.belongs_to == "both"), others[0])
    form.upstream.data, form.downstream.data = (part.id, engine.id) if side == "intake" else (engine.id, part.id)
    return form


def _place(form: forms.LayForm) -> faces.FacePlace:
    return faces.FacePlace(form.right.data or 0.0, form.up.data or 0.0, form.turn.data or 0.0)


def match(application_id: int) -> Any:
    """Two faces laid over each other, the lips, the judgement, and the plates between them."""
    application = load_application(application_id)
    found = path_faces.faces_of(db(), application.id)
    lays = path_faces.lays_of(db(), application.id)
    form = _form(found, lays, application.product.side)
    context: dict[str, Any] = {"form": form, "faces": found, "lays": lays, "kinds": tuple(WRITERS), "keys": KEYS}
    if len(found) < 2:
        return page("faces/match.html", match=None, **context)
    valid = form.validate() if "upstream" in request.args else True
    by_id = {f.id: f for f in found}
    pair = (by_id.get(form.upstream.data), by_id.get(form.downstream.data))
    figures: dict[str, Any] = {}
    match, judgement, drawn = None, None, ""
    try:
        if valid and pair[0] is not None and pair[1] is not None:
            match = path_faces.laid(pair[0], pair[1], _place(form))
            judgement = faces.judge_match(match, pair[1].wall, pair[1].wall_limit)
            drawn = picture.picture(pair[0], pair[1], _place(form), match, application.product.side, system())
            figures = dict(path_faces.match_figures(match))
            if plates := form.thicknesses():
                figures |= {
                    f"plates-{f.name}": f
                    for f in faces.stack_shift(form.layout.data or "in-line", plates, form.angle.data or 0.0)
                }
    except InputError as error:
        field = {"thicknesses": "plates"}.get(error.field or "", error.field)
        form.blame(InputError(error.message, field))
    return page(
        "faces/match.html",
        figures,
        match=match,
        judgement=judgement,
        drawn=drawn,
        pair=pair,
        status=422 if form.errors or not valid else 200,
        **context,
    )


def keep_lay(application_id: int) -> Any:
    """Keep how two faces lie, with the judgement."""
    application = load_application(application_id)
    found = path_faces.faces_of(db(), application.id)
    form = forms.LayForm()
    form.upstream.choices = form.downstream.choices = options([(f.id, f.name) for f in found])
    if not form.validate():
        return page("error.html", title="Not kept", sentence="Lay the two faces over each other first.", status=422)
    upstream, downstream = (load_part(Face, i, application) for i in (form.upstream.data, form.downstream.data))
    note = request.form.get("note", "").strip()[:200]
    try:
        with db().savepoint():
            lay = path_faces.keep_lay(db(), application, upstream, downstream, _place(form), note)
    except InputError as error:
        return page("error.html", title="Not kept", sentence=error.message, status=422)
    flash(f"Kept: {lay.judgement}.", "done")
    return redirect(
        url_for(
            "faces.match",
            application_id=application.id,
            upstream=upstream.id,
            downstream=downstream.id,
            right=request.form.get("right"),
            up=request.form.get("up"),
            turn=request.form.get("turn"),
        )
    )


def _outline(form: forms.FaceForm, face: Face | None) -> tuple[traverse.Outline, str]:
    """The outline that a form gives [m], by sizes, from a file or point by point, and the file it came from."""
    if form.shape.data != "outline":
        return traverse.face_of(form.shape.data, {name: getattr(form, name).data for name in forms.SIZES}), ""
    sent = form.file.data
    if sent is not None and sent.filename:
        name = clean_name(sent.filename)
        return traverse.traced_face(files.read(name, sent.read())), name
    before = face.came_from if face is not None else ""
    if form.outline.data or face is None:
        return traverse.traced_face(form.traced()), before
    return face.points, before


def _face_page(application: Application, face: Face | None) -> Any:
    form = forms.FaceForm(obj=face)
    offer_letters(form.belongs_to, application, BOTH)
    if not form.is_submitted():
        if face is None:
            form.wall_limit.data = 0.003
        else:
            for name in forms.SIZES:
                getattr(form, name).data = face.sizes.get(name)

    def apply() -> Face:
        outline, came_from = _outline(form, face)
        is_traced = form.shape.data == "outline"
        sizes = {k: v for k in forms.SIZES if (v := getattr(form, k).data) is not None and not is_traced}
        card = form.command(path_faces.FaceCard, sizes=sizes, came_from=came_from)
        return path_faces.save_face(db(), application, face, outline, card)

    saved = save(form, face, apply)
    if saved.done:
        return redirect(url_for("faces.match", application_id=application.id))
    return page(
        "faces/face.html",
        form=form,
        face=face,
        conflict=saved.conflict,
        status=saved.status,
        attachments=attached(db(), face) if face is not None else None,
        kinds=tuple(WRITERS),
    )


def new_face(application_id: int) -> Any:
    """Take a face by its sizes, from a file, or point by point."""
    return _face_page(load_application(application_id), None)


def edit_face(application_id: int, face_id: int) -> Any:
    """Change a face."""
    application = load_application(application_id)
    return _face_page(application, load_part(Face, face_id, application))


def trace(application_id: int) -> Any:
    """Trace a face on a photo of this application."""
    application = load_application(application_id)
    photos = path_faces.photos_of(db(), application.id)
    form = forms.PhotoTraceForm()
    offer_letters(form.belongs_to, application, BOTH)
    form.photo_id.choices = options([(p.id, p.audit_title) for p in photos])
    if not form.is_submitted():
        form.wall_limit.data = 0.003
        form.photo_id.data = request.args.get("photo", photos[0].id if photos else 0, int)
    photo = next((p for p in photos if p.id == form.photo_id.data), None)

    def apply() -> Face:
        rim, scale = form.points()
        outline = path_faces.traced_on_photo(rim, scale, form.distance.si())
        card = path_faces.FaceCard(
            name=form.name.data or "",
            shape="outline",
            wall_limit=form.wall_limit.si(),
            belongs_to=form.belongs_to.data,
            came_from=f"photo {photo.audit_title}" if photo else "",
            tool=f"photo, {len(rim)} points",
            precision=PHOTO_PRECISION,
        )
        return path_faces.save_face(db(), application, None, outline, card)

    saved = save(form, None, apply)
    if saved.done:
        return redirect(url_for("faces.edit_face", application_id=application.id, face_id=saved.result.id))
    return page("faces/trace.html", form=form, photos=photos, photo=photo, status=saved.status)


def export(application_id: int, face_id: int, kind: str) -> Any:
    """The outline of a face as SVG, DXF or columns."""
    application = load_application(application_id)
    face = load_part(Face, face_id, application)
    if kind not in WRITERS:
        abort(404)
    write, media_type = WRITERS[kind]
    answer = Response(write(face.points), mimetype=media_type)
    answer.headers["Content-Disposition"] = f'attachment; filename="face-{face.id}.{kind}"'
    return answer
