"""Views of Claim: the statement beside its gates, drafting and composing."""

from __future__ import annotations

import json
from typing import Any

from flask import flash, redirect, render_template, request, url_for

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.working import from_dict
from longbreath.core.claim.facts import AS_SET
from longbreath.core.claim.gates.table import may_publish
from longbreath.core.claim.grammar import Composition, offered
from longbreath.core.claim.kinds.register import KINDS
from longbreath.core.claim.proposal import wishes
from longbreath.dossier.claim import bundle, reads, reviews, verbs, watch
from longbreath.dossier.claim.backing import backing, backing_of
from longbreath.dossier.claim.beside import Beside, beside_of
from longbreath.dossier.claim.sheet import SHAPE, content, digest, with_picture
from longbreath.dossier.evidence.gather import gather
from longbreath.drawing import charts
from longbreath.drawing.sheets import State
from longbreath.steps.claim import forms
from longbreath.steps.claim.ways import way_of
from longbreath.store.models import Application, Claim
from longbreath.web.guard import load_application, load_part, user
from longbreath.web.page import page
from longbreath.web.saving import Saved, save
from longbreath.web.transaction import db


def here(application: Application, claim: Claim | None = None) -> Any:
    """Back to the page of claims, at one of them."""
    number = claim.id if claim is not None else None
    return redirect(url_for("claim.overview", application_id=application.id, claim=number))


def overview(application_id: int) -> Any:
    """One claim beside its gates, and the others."""
    return shown(load_application(application_id), Saved(False))


def shown(
    application: Application,
    saved: Saved,
    claim: Claim | None = None,
    composing: forms.ClaimForm | None = None,
    pending: Composition | None = None,
    acting: forms.ActForm | None = None,
    saying: forms.CommentForm | None = None,
    driving: forms.MilesForm | None = None,
) -> Any:
    """The page of claims; `composing` with `pending` is what a writer has chosen and not kept yet, other forms what was refused."""
    every = reads.of_application(db(), application.id)
    claim = claim or _asked_for(every)
    draft, problem = None, ""
    try:
        draft = reads.draft_of(db(), application, claim, pending) if claim is not None else None
    except EvidenceError as error:
        problem = error.message
    if composing is None and claim is not None:
        composing = forms.ClaimForm(formdata=None, obj=claim)
        composing.version.data = str(claim.version)
    return page(
        "claim/overview.html",
        claim=claim,
        every=every,
        draft=draft,
        problem=problem,
        standing=watch.standing_of(db(), every),
        form=composing,
        act=acting or forms.ActForm(formdata=None),
        saying=saying or forms.CommentForm(formdata=None),
        driving=driving or _driving(claim),
        pending=pending is not None,
        offered=offered,
        kinds=KINDS,
        choices=_choices(draft.beside if draft is not None else beside_of(db(), application)),
        way_of=way_of,
        conflict=saved.conflict,
        status=saved.status,
        **_of_claim(claim),
        **_of_draft(claim, draft, application),
    )


def _of_claim(claim: Claim | None) -> dict[str, Any]:
    """What stands beside a claim: comments, its bundle, and the work on it."""
    if claim is None:
        return {"comments": {}, "bundle": None, "bundling": None}
    return {
        "comments": reviews.comments_of(db(), claim),
        "bundle": bundle.bundle_of(db(), claim),
        "bundling": bundle.task_of(db(), claim) if claim.sheet is not None else None,
    }


def _of_draft(claim: Claim | None, draft: reads.Draft | None, application: Application) -> dict[str, Any]:
    """What an approver reads and confirms of a draft, whether it is their own, and what a seller would have liked to say."""
    if claim is None or draft is None:
        return {"read": "", "own": False, "discloses": [], "all_met": False, "wishes": ()}
    submitted = claim.state == "submitted"
    backing_here, road = draft.backing, draft.road
    return {
        "read": digest(content(draft)) if submitted else "",
        "own": user().id in draft.writers,
        "discloses": bundle.discloses(db(), draft) if submitted else [],
        "all_met": may_publish(draft.gates),
        "wishes": wishes(backing_here.facts, backing_here.setting, road, application.vehicle.cylinders),
    }


def _asked_for(every: list[Claim]) -> Claim | None:
    wanted = request.args.get("claim", type=int)
    return next((c for c in every if c.id == wanted), every[0] if every else None)


def _driving(claim: Claim | None) -> forms.MilesForm:
    sources = claim.sources if claim is not None else {}
    form = forms.MilesForm(formdata=None, data={k: sources.get(k) for k in ("distance", "price", "sold_by")})
    form.version.data = str(claim.version) if claim is not None else ""
    return form


def _choices(beside: Beside) -> list[tuple[str, list[tuple[str, str]]]]:
    """What may be drafted: kind, and each choice as its value in a form and words."""
    found = beside.choices.items()
    return [(kind, [(_value(kind, c.session_ids, c.sources), c.words) for c in cs]) for kind, cs in found]


def _value(kind: str, session_ids: Any, sources: Any) -> str:
    return json.dumps([kind, list(session_ids), dict(sources)], sort_keys=True)


def draft(application_id: int) -> Any:
    """Draft a claim of what the evidence holds, of the kind and on the sessions or readings that were chosen."""
    application = load_application(application_id)
    kind, session_ids, sources = _wanted(application)
    open_one = next(
        (c for c in reads.of_application(db(), application.id) if _is_same(c, kind, session_ids, sources)), None
    )
    if open_one is not None:
        flash("This draft is open already.", "done")
        return here(application, open_one)
    made = verbs.draft_claim(db(), backing(db(), application, kind, session_ids, sources))
    return here(application, made)


def _wanted(application: Application) -> tuple[str, list[int], dict[str, Any]]:
    """What a form asks to be drafted: one of the choices that were offered, the sessions that the verdict was of, or the first choice.

    Raises EvidenceError for anything that was not offered, or where nothing is.
    """
    asked, sessions = request.form.get("on", ""), request.form.getlist("session", int)
    if sessions and not asked:
        found = gather(db(), application, sessions)
        return "torque", found.session_ids, {"school": AS_SET} if found.is_boosted else {}
    values = [value for _, choices in _choices(beside_of(db(), application)) for value, _ in choices]
    wanted = asked if asked in values else next(iter(values), "") if not asked else ""
    if not wanted:
        raise EvidenceError("There is nothing here that a statement could be made of yet.")
    kind, numbers, sources = json.loads(wanted)
    return kind, numbers, sources


def _is_same(claim: Claim, kind: str, session_ids: list[int], sources: dict[str, Any]) -> bool:
    told = {k: v for k, v in claim.sources.items() if k in sources}
    same = (claim.kind, list(claim.session_ids), told) == (kind, session_ids, sources) or (
        claim.kind == kind == "durability"
    )
    return claim.state == "draft" and bool(claim.lines) and same


def edit(application_id: int, claim_id: int) -> Any:
    """Move facts about, choose how they are worded, and keep that."""
    application = load_application(application_id)
    claim = load_part(Claim, claim_id, application)
    form, composition = forms.ClaimForm(), forms.chosen(request.form)
    if request.form.get("do", "keep") != "keep":
        return shown(application, Saved(False), claim, composing=form, pending=composition)
    evidence = backing_of(db(), application, claim)
    choice = verbs.ComposedChoice(composition, form.description.data or "")
    saved = save(form, claim, lambda: verbs.change_claim(db(), claim, evidence, choice))
    if saved.done:
        return here(application, claim)
    return shown(application, saved, claim, composing=form, pending=composition)


def miles(application_id: int, claim_id: int) -> Any:
    """Say on which distance and price money is reckoned."""
    application = load_application(application_id)
    claim = load_part(Claim, claim_id, application)
    form = forms.MilesForm()
    saved = save(
        form,
        claim,
        lambda: verbs.reckon_money(db(), application, claim, form.distance.si(), form.price.si(), form.sold_by.data),
    )
    return here(application, claim) if saved.done else shown(application, saved, claim, driving=form)


def preview(application_id: int, claim_id: int) -> Any:
    """The sheet as it would be published now."""
    application = load_application(application_id)
    claim = load_part(Claim, claim_id, application)
    drafted = reads.draft_of(db(), application, claim)
    told = with_picture(db(), drafted, content(drafted))
    figures = (*told["figures"], *told["locals"], *([told["correction"]] if told["correction"] else []))
    return render_template(
        "claim/preview.html",
        snap=told,
        shape=SHAPE,
        state=State(),
        workings=[(f, from_dict(f["working"])) for f in figures],
        theme="paper",
        hatches=charts.hatches("paper"),
    )
