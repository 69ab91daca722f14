"""Forms of Claim."""

from __future__ import annotations

from wtforms import SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, Length, Optional

from longbreath.core.claim.facts import APPROVALS
from longbreath.web.forms import BaseForm, options


class ClaimForm(BaseForm):
    """The statement and its trade-offs."""

    statement = TextAreaField("Statement", [DataRequired("A claim needs a statement."), Length(max=1200)])
    trade_off = TextAreaField("Trade-offs", [Optional(), Length(max=1200)])


class ApprovalForm(BaseForm):
    """Status of the part for road use on this vehicle."""

    approval = SelectField("Road use", choices=options(APPROVALS.items()))
    approval_note = StringField("Certificate or market", [Optional(), Length(max=200)])


class ActForm(BaseForm):
    """A button that does something to the claim that was shown."""


class WithdrawForm(BaseForm):
    """Why a claim is withdrawn."""

    reason = StringField("Reason", [DataRequired("Say why; the sheet will show it."), Length(max=300)])
