"""What was seen of a test on the dyno, as plain data: sessions with their air, dyno and card, every pull with files and judgements,
build sheets, what was written of each difference. Whatever is weighed, gated or printed stands here; rows are not known."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any, Literal

from longbreath.core.compare.bands import Band
from longbreath.core.compare.scatter import Scatter
from longbreath.core.compare.spending import Stand, error_of


@dataclass(frozen=True)
class Part:
    """What is compared with what, on which vehicle, by the names that people gave: dossier, product, revision with its state, stock
    part, vehicle with its years, how its engine breathes."""

    dossier: int
    product: str
    revision: str
    title: str
    state: str
    stock: str
    vehicle: str
    years: str
    induction: str


@dataclass(frozen=True)
class FileRead:
    """A stretch of a file as received: its SHA-256 and name, table with first and last row (empty: all of it), how its columns were
    read."""

    sha256: str
    filename: str
    part: Mapping[str, int]
    columns: Mapping[str, Any]


@dataclass(frozen=True)
class Judgement:
    """What was once said of whether a pull counts: the reason, whether its checks said so or a person, and who; who said the same
    without knowing letter, place and result, "" where nobody did."""

    valid: bool
    reason: str
    automatic: bool
    by: str
    agreed_by: str = ""


@dataclass(frozen=True)
class Pull:
    """A full pull: place in the session's order, letter, which reading of its files holds, the files (the second is a logger's); what
    was smoothed [s], rise of speed [rad/s²] and temperatures at the start [K] by the log, None and empty where it says nothing;
    what its source was asked once; where it is read otherwise than its file says, with the reason; every judgement, the last of which
    holds."""

    place: int
    letter: str
    reading: int
    files: tuple[FileRead, ...]
    judgements: tuple[Judgement, ...]
    smoothing: float | None = None
    rate: float | None = None
    starts: Mapping[str, float] | None = None
    source_said: Mapping[str, str] | None = None
    departs: tuple[str, ...] = ()

    @property
    def counts(self) -> bool:
        """Whether its last judgement lets it count."""
        return bool(self.judgements) and self.judgements[-1].valid

    @property
    def by_hand(self) -> bool:
        """Whether a person, not a check, had the last word."""
        return not self.judgements[-1].automatic

    @property
    def is_contested(self) -> bool:
        """Whether one person says otherwise than its checks did, and nobody agreed who did not know what it shows."""
        last = self.judgements[-1]
        checks = [j.valid for j in self.judgements if j.automatic]
        return not last.automatic and not last.agreed_by and (not checks or checks[-1] != last.valid)

    @property
    def overruled(self) -> bool:
        """Whether it counts although a check of its own failed: a person said so."""
        return self.counts and any(j.automatic and not j.valid for j in self.judgements)


@dataclass(frozen=True)
class Dyno:
    """A dyno as it was known on the day of a session: number, name, where it measures, rollers [kg m², m], calibration, scatter."""

    number: int
    name: str
    measured_at: str
    scatter: Scatter
    roller_inertia: float | None = None
    roller_radius: float | None = None
    calibrated_on: date | None = None
    calibration_due: date | None = None


@dataclass(frozen=True)
class Variant:
    """What stands under a letter of a card: the card's words, the name and the parts of the variant, its level of each factor, tuning
    rounds that are written on it, and those that were kept on the dyno."""

    letter: str
    called: str
    name: str
    parts: tuple[str, ...]
    levels: tuple[int, ...] = ()
    rounds: int = 0
    rounds_kept: int = 0


@dataclass(frozen=True)
class Card:
    """A test card: letters of the stock part and the product, all that it compares, names of its factors, what differs besides in its
    writer's words, its modes, the share of A below which a difference does not matter [1], and how many pulls of the pair it plans."""

    a: str
    b: str
    variants: tuple[Variant, ...]
    factors: tuple[str, ...]
    also_changed: str
    tune_mode: str
    control_mode: str
    no_matter: float
    planned: int = 0

    @property
    def letters(self) -> tuple[str, ...]:
        """The letters it compares, in order."""
        return tuple(v.letter for v in self.variants)

    def called(self, letter: str) -> str:
        """What stands under a letter, in the words of the card."""
        return next((v.called for v in self.variants if v.letter == letter), "")


@dataclass(frozen=True)
class Sheet:
    """A build sheet: the day it describes, its lines in words, and in words what of it was corrected after the pulls and by what, or
    waits for a second person."""

    held_on: date
    lines: Mapping[str, str]
    corrected: tuple[str, ...] = ()


@dataclass(frozen=True)
class Said:
    """What a person said of the pulls of a letter that no log states."""

    letter: str
    name: str
    words: str


@dataclass(frozen=True)
class Session:
    """A day on the dyno: number and name (which tells it from others and is no evidence), air [K, Pa, 1], correction, gear, dyno,
    card, its full pulls in order, the last place of any pull, what was said of them, how many were typed (which are no evidence
    either), when the first file came, the build sheets of A and B that stand for its day; the number of the session that its plan
    begins in, where a card is filled over days."""

    number: int
    name: str = field(compare=False)
    held_on: date
    temperature: float
    pressure: float
    humidity: float
    standard: str
    already_corrected: bool
    gear: str
    dyno: Dyno
    card: Card
    pulls: tuple[Pull, ...]
    last_place: int
    said: tuple[Said, ...] = ()
    typed: int = field(default=0, compare=False)
    first_file: datetime | None = None
    sheet_a: Sheet | None = None
    sheet_b: Sheet | None = None
    plan: int = 0

    def counted(self, letter: str) -> int:
        """How many pulls of a letter count, or would but for one person's word."""
        return sum(pull.counts or pull.is_contested for pull in self.pulls if pull.letter == letter)


@dataclass(frozen=True)
class Visit:
    """A session with pulls as a look at the outcome: its number, day, when its first file came; the number of the session that its
    plan begins in (a factorial is filled over days), how many pulls of A and B the card plans, how many of each count; the margin of
    no meaningful difference that its card chose [1]."""

    number: int
    held_on: date
    first_file: datetime | None
    plan: int
    planned: int
    of_a: int
    of_b: int
    no_matter: float = 0.01

    @property
    def is_look(self) -> bool:
        """Whether anything of B − A could be seen of it."""
        return self.of_a > 0 and self.of_b > 0


@dataclass(frozen=True)
class Reason:
    """What is written of one difference: line, both texts, why; what is known of its effect, its range as shares of A's torque [1], or
    the session and letters of the test that measured it alone."""

    line: str
    a: str
    b: str
    reason: str
    kind: str = ""
    low: float | None = None
    high: float | None = None
    session: int | None = None
    from_letter: str = ""
    to_letter: str = ""


@dataclass(frozen=True)
class Test:
    """A test of a part on the dyno: the sessions that count, newest first; sessions in which a difference was measured alone; bands
    of use with the day they were last changed; reasons; findings on the engine in words; every session with pulls of the part up to
    the last that takes part, in the order in which their outcomes were known; names of those that take no part, with why; files
    whose pulls nobody recorded."""

    __test__ = False

    part: Part
    sessions: tuple[Session, ...]
    alone: tuple[Session, ...]
    bands: tuple[Band, ...]
    bands_set: datetime | None
    reasons: tuple[Reason, ...]
    doubts: tuple[str, ...] = ()
    visits: tuple[Visit, ...] = ()
    others: tuple[str, ...] = field(default=(), compare=False)
    unrecorded: tuple[str, ...] = ()
    of: Literal["test"] = "test"

    @property
    def newest(self) -> Session:
        """The newest session that counts."""
        return self.sessions[0]

    @property
    def card(self) -> Card:
        """Its card."""
        return self.newest.card

    def session(self, number: int) -> Session:
        """A session by its number. Raises KeyError where it is none of these."""
        return {s.number: s for s in (*self.sessions, *self.alone)}[number]

    @property
    def looks(self) -> tuple[Stand, ...]:
        """Where each plan stands, in the order in which their outcomes were known."""
        plans: dict[int, list[Visit]] = {}
        for visit in (v for v in self.visits if v.is_look):
            plans.setdefault(visit.plan, []).append(visit)
        return tuple(Stand(mine[0].planned, sum(v.of_a + v.of_b for v in mine)) for mine in plans.values())

    @property
    def confidence(self) -> float:
        """Confidence of its intervals [1]: what the looks so far leave of the error."""
        return 1.0 - error_of(self.looks)

    @property
    def margin(self) -> float:
        """The margin of no meaningful difference [1]: that of the card whose outcome was known first, before anybody had looked."""
        return (self.visits[0] if self.visits else self.card).no_matter

    @property
    def bands_late(self) -> bool:
        """Whether the bands were changed when a file of any session was there already."""
        known = [v.first_file for v in self.visits] or [s.first_file for s in self.sessions]
        first = min((at for at in known if at is not None), default=None)
        return first is not None and self.bands_set is not None and self.bands_set > first
