"""Hand tools that talk: which are listed, and their readings as they come, for the field that is lit."""

from __future__ import annotations

import json
import time
from collections.abc import Callable, Iterator
from typing import Any

from flask import abort, jsonify, request
from sqlalchemy.exc import SQLAlchemyError

from longbreath.core.basis import units
from longbreath.devices.cell_line import TOOL
from longbreath.devices.kinds import TOOL as KIND
from longbreath.dossier import instruments
from longbreath.dossier.instruments import Wire
from longbreath.web.lines import line_notices, seated
from longbreath.web.transaction import db, sessions

LONGEST = 1800.0
WAIT = 0.5


def tools() -> Any:
    """The hand tools that an admin has listed."""
    found = [a for a in instruments.addresses(db()) if a.is_listed and a.kind == KIND]
    return jsonify([{"address": a.address, "what": a.what or a.address} for a in found])


def tool_readings() -> Any:
    """What a hand tool sends, as server-sent events."""
    address = request.args.get("address", "")
    if not any(a.address == address and a.is_listed and a.kind == KIND for a in instruments.addresses(db())):
        abort(404)
    return seated(_events(Wire(sessions(), address, KIND), line_notices().wait))


def _events(wire: Wire, wait: Callable[[float], None]) -> Iterator[str]:
    """How the line stands when that changes, and each reading once."""
    ends, told, sent = time.monotonic() + LONGEST, "", None
    while time.monotonic() < ends:
        try:
            look = wire.look(5.0)
        except SQLAlchemyError:
            time.sleep(WAIT)
            continue
        sent = look.now if sent is None else sent
        state = json.dumps({"state": look.status.state, "words": look.status.words})
        if state != told:
            told = state
            yield f"data: {state}\n\n"
        for sample in [s for s in look.samples if s.at > sent]:
            sent = sample.at
            for word, value in sample.line.values.items():
                yield f"data: {json.dumps(reading_of(word, value), ensure_ascii=False)}\n\n"
        yield ": still here\n\n"
        wait(WAIT)


def reading_of(word: str, value: float) -> dict[str, str]:
    """A reading [SI] as it is put into a field: with the tool's own unit and decimals, and its dimension."""
    spoken = TOOL.quantities[word]
    number = units.to_unit(value, spoken.kind, spoken.unit)
    text = f"{number:.{spoken.decimals}f} {spoken.unit}"
    return {
        "text": text,
        "dimension": units.kind_named(spoken.kind).dimension,
        "word": units.kind_named(spoken.kind).word,
    }
