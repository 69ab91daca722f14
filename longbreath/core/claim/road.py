"""Road use: certificates per part, vehicle, years and market, what they forbid, and what may be said of the road.

General practice; local law decides. A certificate belongs to one part on one set of vehicles.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

UNKNOWN, CLOSED_COURSE, APPROVED, NOT_REQUIRED = "unknown", "closed_course", "approved", "not_required"
APPROVALS = {
    UNKNOWN: "not stated",
    CLOSED_COURSE: "closed course only: no approval for road use is held",
    APPROVED: "approved for road use under the certificates named, in their markets alone",
    NOT_REQUIRED: "no approval is required in the market named",
}
EMISSIONS, NOISE = "emissions", "noise"
REMOVES, KEEPS = "removes", "keeps"
TAMPERING = {
    "": "not said yet",
    KEEPS: "leaves every emission device in place and at work",
    REMOVES: "removes or disables an emission device",
}
DIRECT, REASONED, NOT_COVERED = "direct", "reasoned", "not covered"
COVERS = {DIRECT: "tested on it", REASONED: "covered by a written reason", NOT_COVERED: "not covered by this evidence"}


@dataclass(frozen=True)
class Certificate:
    """One certificate: of emissions or noise, number, market, model years (first, last), last day it holds (None: open), its scope and
    what it forbids in words."""

    kind: str
    number: str
    market: str
    years: tuple[int, int]
    until: date | None = None
    scope: str = ""
    forbids: str = ""

    def holds(self, day: date) -> bool:
        """Whether it is in date on a day."""
        return self.until is None or day <= self.until

    @property
    def words(self) -> str:
        """In one line of a sheet."""
        until = f", until {self.until:%d %b %Y}" if self.until else ""
        more = "".join(f"; {text}" for text in (self.scope, f"forbids {self.forbids}" if self.forbids else "") if text)
        return f"{self.market}: {self.kind} certificate {self.number}, model years {self.years[0]} to {self.years[1]}{until}{more}"


@dataclass(frozen=True)
class Covered:
    """One vehicle that a part is offered for: make, model, years, engine code, whether the evidence covers it, and the written
    reason."""

    vehicle: str
    years: str
    engine: str
    covers: str
    reason: str = ""

    @property
    def words(self) -> str:
        """In one line of a sheet."""
        told = f"{self.vehicle}, {self.years}, engine {self.engine}: {COVERS[self.covers]}"
        return f"{told} ({self.reason})" if self.reason else told


@dataclass(frozen=True)
class Road:
    """What is stated of road use: status, market or remark, what the part does to emission devices, certificates, the day it is
    read."""

    status: str
    note: str = ""
    tampering: str = ""
    certificates: tuple[Certificate, ...] = ()
    day: date = date(2000, 1, 1)

    @property
    def in_date(self) -> tuple[Certificate, ...]:
        """Certificates that hold on the day."""
        return tuple(c for c in self.certificates if c.holds(self.day))

    @property
    def words(self) -> str:
        """What a sheet says of the road: of a part without approval that it is for closed courses only."""
        if self.tampering == REMOVES and not self.emissions:
            return f"This part {TAMPERING[REMOVES]}. Closed course only: no certificate for road use is held."
        base = APPROVALS[self.status]
        note = f" ({self.note})" if self.note.strip() and self.status != CLOSED_COURSE else ""
        return f"{base[0].upper()}{base[1:]}{note}."

    @property
    def emissions(self) -> tuple[Certificate, ...]:
        """Certificates of emissions that hold on the day."""
        return tuple(c for c in self.in_date if c.kind == EMISSIONS)

    @property
    def problem(self) -> str:
        """Why nothing may be said of the road yet; "" if it may."""
        if self.tampering not in (KEEPS, REMOVES):
            return "It is not said whether the part removes or disables an emission device."
        if self.status == UNKNOWN:
            return "It is not said whether the part is approved for road use, or for closed courses only."
        if self.tampering == REMOVES and self.status != CLOSED_COURSE and not self.emissions:
            return "The part removes or disables an emission device, and no certificate for emissions is in date: closed course only."
        if self.status == APPROVED and not self.in_date:
            late = "; ".join(f"{c.number} ran out on {c.until:%d %b %Y}" for c in self.certificates if c.until)
            return f"No certificate is in date{': ' + late if late else ''}."
        if self.status == NOT_REQUIRED and not self.note.strip():
            return "Name the market in which no approval is required."
        return ""
