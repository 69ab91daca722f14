"""Stamps of dossiers: as long as a stamp is the same, nothing that is written about an application has changed.

Every change writes a row of the audit trail in its own transaction, and rows are only added: how many there are of an application, of
those that share a card with it (their pulls are its own), and of what belongs to all (the library), tells its state. The kept verdict,
which is no audited record, is told by its row's own version.
"""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import text
from sqlalchemy.orm import Session

_STAMPS = text("""
select a.id, (select count(*) from audit_entry e where e.application_id in (select a.id union
    select q.application_id from card_pair p join card_pair q on q.card_id = p.card_id where p.application_id = a.id))
  || ' ' || coalesce(v.xmin::text, ''),
  (select count(*) from audit_entry where application_id is null), pg_current_xact_id_if_assigned() is not null
from application a left join verdict v on v.application_id = a.id where a.id = any(:ids)
""")


def stamps_of(db: Session, ids: Sequence[int]) -> dict[int, str] | None:
    """The stamp of each application by its id; None for a transaction that wrote something: nobody else may see what it sees."""
    rows = db.execute(_STAMPS, {"ids": list(ids)}).all()
    if any(has_written for *_, has_written in rows):
        return None
    return {number: f"{own} {everybodys}" for number, own, everybodys, _ in rows}
