"""Channels of pulls, as the house keeps them: asked for by session and place, of the reading that holds."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from sqlalchemy import select, tuple_
from sqlalchemy.orm import Session

from longbreath.core.case import seen
from longbreath.core.case.placing import Array, Channels
from longbreath.store.models import Channel, Pull, PullReading


def channels_in(db: Session) -> Channels:
    """Gives channels out of the records, in one query for all pulls that are asked for."""

    def given(
        wanted: Sequence[tuple[seen.Session, seen.Pull]], names: Sequence[str]
    ) -> dict[tuple[int, int], dict[str, Array]]:
        places = [(session.number, pull.place, pull.reading) for session, pull in wanted]
        if not places:
            return {}
        query = (
            select(Pull.session_id, Pull.sequence, Channel.name, Channel.values)
            .join(PullReading, PullReading.pull_id == Pull.id)
            .join(Channel, Channel.reading_id == PullReading.id)
            .where(tuple_(Pull.session_id, Pull.sequence, PullReading.number).in_(places))
        )
        if names:
            query = query.where(Channel.name.in_(names))
        found: dict[tuple[int, int], dict[str, Array]] = {}
        for session_id, place, name, values in db.execute(query):
            found.setdefault((session_id, place), {})[name] = np.array(values, dtype=np.float64)
        return found

    return given
