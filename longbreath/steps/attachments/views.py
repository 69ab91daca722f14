"""Views of attachments: add, show, put away."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlsplit

from flask import Response, abort, flash, redirect, request, stream_with_context, url_for
from flask_wtf.file import FileField
from werkzeug.http import dump_options_header
from wtforms import HiddenField, StringField
from wtforms.validators import DataRequired, Length

from longbreath.core.basis.errors import InputError
from longbreath.dossier import attachments, blobs
from longbreath.store import models
from longbreath.store.models import Attachment
from longbreath.web.addresses import local
from longbreath.web.forms import BaseForm
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db

RECORDS: dict[str, Any] = {
    model.__tablename__: model
    for model in (
        models.Element,
        models.Face,
        models.Fit,
        models.WheelSheet,
        models.LadderRung,
        models.BuildSheet,
        models.BenchSession,
        models.Traverse,
        models.PortingJob,
        models.TestCard,
        models.DynoSession,
        models.Pull,
        models.TypedPull,
    )
}


class AddForm(BaseForm):
    """A file to hang on a record."""

    file = FileField("File", description="photo (JPEG, PNG, WebP) or PDF up to 12 MB, video (MP4, WebM) up to 512 MB")
    caption = StringField("Caption", [Length(max=120)])
    back = HiddenField()


class PutAwayForm(BaseForm):
    """Why an attachment is put away."""

    reason = StringField("Why", [DataRequired("Say why."), Length(max=200)])
    back = HiddenField()


def _back(form: BaseForm) -> str:
    """The page of this site that the form stood on, or came from."""
    wanted = form["back"].data or urlsplit(request.referrer or "").path
    return local(wanted) or url_for("coverage.home")


def add(application_id: int, kind: str, record_id: int) -> Any:
    """Hang a photo or document on a record."""
    application = load_application(application_id)
    if kind not in RECORDS:
        abort(404)
    load_part(RECORDS[kind], record_id, application)
    form = AddForm()

    def hang() -> Attachment:
        sent = form.file.data
        if not sent or not sent.filename:
            raise InputError("Choose a file first.", "file")
        new = attachments.NewAttachment(kind, record_id, sent.filename, sent.stream, form.caption.data or "")
        return attachments.hang(db(), application, new)

    saved = save(form, None, hang)
    if saved.done:
        flash("It hangs on the record now, kept as received.", "done")
        return redirect(f"{_back(form)}#attached")
    return page("attachments/add.html", form=form, back=_back(form), status=saved.status)


def _served(attachment: Attachment, data: bytes, media_type: str) -> Response:
    inline = media_type.startswith("image/")
    answer = Response(data, mimetype=media_type)
    disposition = dump_options_header("inline" if inline else "attachment", {"filename": attachment.filename})
    answer.headers["Content-Disposition"] = disposition
    answer.headers["X-Content-Type-Options"] = "nosniff"
    answer.headers["Cache-Control"] = "private, max-age=86400"
    return answer


def original(application_id: int, attachment_id: int) -> Any:
    """The file as received."""
    application = load_application(application_id)
    attachment = load_part(Attachment, attachment_id, application)
    if attachment.blob_id is not None:
        return _streamed(attachment, attachment.blob_id)
    return _served(attachment, attachment.data or b"", attachment.media_type)


def _streamed(attachment: Attachment, blob_id: int) -> Response:
    """A video, or the stretch of it that the player asks for."""
    wanted = request.range.range_for_length(attachment.size) if request.range else None
    first, after = wanted or (0, attachment.size)
    parts = stream_with_context(blobs.stretch(db(), blob_id, first, after - 1))
    answer = Response(parts, 206 if wanted else 200, mimetype=attachment.media_type)
    answer.headers["Accept-Ranges"] = "bytes"
    answer.headers["Content-Length"] = str(after - first)
    answer.headers["X-Content-Type-Options"] = "nosniff"
    if wanted:
        answer.headers["Content-Range"] = f"bytes {first}-{after - 1}/{attachment.size}"
    return answer


def thumbnail(application_id: int, attachment_id: int) -> Any:
    """The thumbnail of a photo."""
    application = load_application(application_id)
    attachment = load_part(Attachment, attachment_id, application)
    if attachment.thumbnail is None:
        abort(404)
    return _served(attachment, attachment.thumbnail, "image/jpeg")


def put_away(application_id: int, attachment_id: int) -> Any:
    """Put an attachment away, with the reason."""
    application = load_application(application_id)
    attachment = load_part(Attachment, attachment_id, application)
    form = PutAwayForm()
    saved = save(form, attachment, lambda: attachments.put_away(db(), attachment, form.reason.data or ""))
    if saved.done:
        flash(f"{attachment.audit_title} is put away; it stays kept.", "done")
        return redirect(_back(form))
    form.back.data = _back(form)
    return page("attachments/put_away.html", form=form, attachment=attachment, status=saved.status, back=form.back.data)
