"""A claim made again from the case and the tables of its bundle, by the same road of the core as the house takes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Any

from longbreath.core.basis.errors import InputError
from longbreath.core.case import seen
from longbreath.core.case.case import Case
from longbreath.core.case.placing import Array, Channels
from longbreath.core.case.state import Choice, Draft, content, state
from longbreath.core.claim.facts import Fact
from longbreath.core.claim.grammar import Composition, SheetLine
from longbreath.core.claim.stating import Stated
from longbreath.core.compare.compare import Comparison
from longbreath.proof.case import channels_path
from longbreath.proof.channels import from_csv

Files = Mapping[str, bytes]


@dataclass(frozen=True)
class Again:
    """What came out again: the draft on its day, and the sheet that would be made of it."""

    draft: Draft
    sheet: Mapping[str, Any]

    @property
    def stated(self) -> Stated:
        """What may be stated."""
        return self.draft.statement.stated

    @property
    def said(self) -> tuple[tuple[Fact, SheetLine], ...]:
        """The facts that the writer chose, with their lines."""
        return self.draft.said

    @property
    def sentences(self) -> tuple[str, ...]:
        """The sentences."""
        return self.draft.sentences

    @property
    def comparison(self) -> Comparison | None:
        """A against B, where pulls were compared."""
        return self.stated.weighing.comparison if self.stated.weighing is not None else None


def channels_from(files: Files) -> Channels:
    """Gives channels out of the tables of a bundle. Raises InputError where one is missing."""

    @lru_cache(None)
    def table(path: str) -> dict[str, Array]:
        data = files.get(path)
        if data is None:
            raise InputError(f"{path} is not in the bundle.", "file")
        return from_csv(data, path)

    def given(
        wanted: Sequence[tuple[seen.Session, seen.Pull]], names: Sequence[str]
    ) -> dict[tuple[int, int], dict[str, Array]]:
        return {(session.number, pull.place): table(channels_path(session, pull)) for session, pull in wanted}

    return given


def again(case: Case, sheet: Mapping[str, Any], files: Files) -> Again:
    """The claim made again: its facts by the writer's choice, its sentences, gates and conditions."""
    lines = tuple(SheetLine(str(x["fact"]), int(x["phrasing"]), bool(x["short"])) for x in sheet.get("lines", ()))
    composed = Composition(lines, bool(sheet.get("joined")))
    choice = Choice(composed, str(sheet.get("description", "")), str(sheet.get("chosen_on", "")))
    draft = Draft(case, state(case, channels_from(files)), choice, _day(sheet))
    return Again(draft, content(draft))


def _day(sheet: Mapping[str, Any]) -> date:
    """The day a sheet was published on."""
    try:
        return date.fromisoformat(str(sheet.get("day") or sheet["held_on"]))
    except (KeyError, ValueError):
        raise InputError("claim.json names no day.", "file") from None
