"""Rules of the house for claims, the kinds of statement with their gates, and what moved."""

from __future__ import annotations

from typing import Any

from flask import current_app, flash, redirect, url_for

from longbreath.core.claim.gates.table import rules_of as gates_of
from longbreath.core.claim.kinds.register import KINDS
from longbreath.core.claim.methods import METHODS
from longbreath.dossier.claim import house, keys
from longbreath.dossier.claim.moved import moved as moved_figures
from longbreath.dossier.claim.reviews import sealer
from longbreath.dossier.records.house import RulesCard, rules_of
from longbreath.proof.pack import fingerprint
from longbreath.steps.claim.forms import RulesForm
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def rules() -> Any:
    """How the house lets claims out and takes them back."""
    form = RulesForm(data=vars(rules_of(db())))
    saved = save(form, None, lambda: house.set_rules(db(), _card(form)))
    if saved.done:
        flash("These rules hold from now on.", "done")
        return redirect(url_for("claim.rules"))
    return page(
        "claim/rules.html",
        form=form,
        keys=[(row, fingerprint(row.public)) for row in keys.keys_of(db())],
        conflict=saved.conflict,
        status=saved.status,
    )


def _card(form: RulesForm) -> RulesCard:
    values = {name: form[name].data for name in RulesCard.__dataclass_fields__}
    return RulesCard(**{**values, "at_once": tuple(form.at_once.data or ())})


def new_key() -> Any:
    """Make a new signing key; the earlier ones still verify."""
    keys.add_key(db(), sealer(current_app.config["SECRET_KEY"]))
    flash("The next bundle is signed by the new key.", "done")
    return redirect(url_for("claim.rules"))


def kinds() -> Any:
    """The register of kinds: what each says, rests on and never says, its gates and their method."""
    return page("claim/kinds.html", kinds=KINDS, gates_of=gates_of, methods=METHODS)


def moved() -> Any:
    """Every figure of a published claim that reads otherwise now."""
    return page("claim/moved.html", rows=list(moved_figures(db())))
