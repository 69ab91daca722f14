"""Pulls that were typed from a sheet of paper or a photo: checked and charted, never evidence."""

from __future__ import annotations

import re
from dataclasses import asdict, dataclass
from typing import Any

from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.judge.typed import Row, check_rows, check_typed
from longbreath.dossier.pull.rules import facts, rules_of
from longbreath.store.models import Application, DynoSession, TypedPull
from longbreath.store.unit_of_work import UnitOfWork

MOST_ROWS = 60


@dataclass(frozen=True)
class TypedCard:
    """What was typed: letter, where it stands, lines of speed, torque and power as people write them ("-" for none)."""

    label: str
    source: str
    rows: str


def read_rows(text: str, system: str) -> tuple[Row, ...]:
    """Lines as rows [SI]: “4500  150 lb-ft  128 hp”; bare numbers have the viewer's units. Raises InputError (field "rows")."""
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if len(lines) > MOST_ROWS:
        raise InputError(f"More than {MOST_ROWS} lines: upload the file instead.", "rows")
    rows = []
    for number, line in enumerate(lines, start=1):
        cells = [cell.strip() for cell in re.split(r"\t|;|\s{2,}|\|", line) if cell.strip()]
        if not 2 <= len(cells) <= 3:
            raise InputError(
                f"Line {number}: write speed, torque and power, two spaces apart, or “-” for none.", "rows"
            )
        try:
            speed = units.parse(cells[0], "speed", system).value
            torque, power = (_cell(cells, n, kind, system) for n, kind in ((1, "torque"), (2, "power")))
        except InputError as error:
            raise InputError(f"Line {number}: {error.message}", "rows") from None
        rows.append((speed, torque, power))
    found = tuple(rows)
    check_rows(found)
    return found


def _cell(cells: list[str], place: int, kind: str, system: str) -> float | None:
    if place >= len(cells) or cells[place] in ("-", "–", "—"):
        return None
    return units.parse(cells[place], kind, system).value


def add_typed(
    work: UnitOfWork,
    application: Application,
    session: DynoSession,
    card: TypedCard,
    system: str,
    replaces: TypedPull | None = None,
) -> TypedPull:
    """Keep what was typed, with what the checks say of it; a correction takes the place of an earlier one, which stays.

    Raises InputError for rows that hold nothing, or a letter that the card does not have.
    """
    if card.label not in session.card.letters:
        raise InputError(f"The card compares {' and '.join(session.card.letters)}.", "label")
    rows = read_rows(card.rows, system)
    if replaces is not None and any(t.replaces_id == replaces.id for t in session.typed):
        raise InputError("Somebody corrected it already: look at the page anew.", "rows")
    alike = [p for p in session.full_pulls if p.label == card.label and p.is_valid]
    known = facts(work, session, application.vehicle, alike)
    rules = rules_of(work, session, application.vehicle, card.label)
    checks = check_typed(rows, rules, [known[p.id].curve for p in alike])
    kept = TypedPull(
        session=session,
        session_id=session.id,
        label=card.label,
        source=card.source.strip(),
        rows=[list(row) for row in rows],
        checks=[asdict(check) for check in checks],
        replaces_id=replaces.id if replaces is not None else None,
        made_by_id=work.actor.id,
    )
    kept.made_by = work.actor
    work.add(kept)
    work.flush()
    return kept


def typed_of(db: Session, session: DynoSession) -> list[TypedPull]:
    """The typed pulls of a session that hold: without those that were corrected."""
    replaced = {typed.replaces_id for typed in session.typed}
    return [typed for typed in session.typed if typed.id not in replaced]


def as_text(typed: TypedPull, system: str) -> str:
    """The rows as they would be typed again."""

    def cell(value: Any, kind: str) -> str:
        return "-" if value is None else units.show(value, kind, system)

    return "\n".join("  ".join((cell(s, "speed"), cell(t, "torque"), cell(p, "power"))) for s, t, p in typed.rows)
