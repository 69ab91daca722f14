"""What Pull does to the records: sessions, files as received, pulls with their channels, judgements."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import asdict, dataclass, field, replace
from datetime import date
from typing import IO, Any

from sqlalchemy import select

from longbreath.core.air.correction import SPARK_IGNITION_ONLY
from longbreath.core.basis.errors import InputError
from longbreath.core.judge.check import Check, log_facts
from longbreath.core.judge.pull import checks_of, is_valid
from longbreath.core.judge.steady import checks_of_point, means_of
from longbreath.core.pull import pulls
from longbreath.dossier import blobs
from longbreath.dossier.commands import put
from longbreath.dossier.events import PullComes, PullsChanged, say
from longbreath.dossier.pull import logs, twins
from longbreath.dossier.pull.rules import company_of, rules_of
from longbreath.formats import mapping as formats_mapping
from longbreath.formats import pull_read as reading
from longbreath.formats.live_log import LiveLog
from longbreath.formats.log import MOST_BYTES, Log, Part, is_large
from longbreath.formats.pull_read import Read
from longbreath.store.models import (
    Application,
    Channel,
    DynoSession,
    Pull,
    PullJudgement,
    PullReading,
    RawFile,
    TestCard,
)
from longbreath.store.models.pulls import SWEEP
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class DynoSessionCard:
    """A visit to the dyno: air [K, Pa, 1], correction standard, and what else belongs to the day."""

    held_on: date
    temperature: float
    pressure: float
    humidity: float
    standard: str
    already_corrected: bool = False
    gear: str = ""
    engine_id: int | None = None
    fuel_id: int | None = None


def open_session(work: UnitOfWork, application: Application, test: TestCard, card: DynoSessionCard) -> DynoSession:
    """Open a dyno session for a test card. Raises InputError for a standard that does not fit the engine."""
    _check_standard(application, card.standard)
    session = DynoSession(application_id=application.id, card_id=test.id)
    put(session, card, gear=card.gear or "")
    session.card = test
    work.add(session)
    work.flush()
    return session


def _check_standard(application: Application, standard: str) -> None:
    if application.vehicle.fuel == "diesel" and standard in SPARK_IGNITION_ONLY:
        raise InputError(
            "This factor is for spark ignition; the one for diesel engines is not known here. "
            "Choose another standard, or no correction.",
            "standard",
        )


def change_session(work: UnitOfWork, application: Application, session: DynoSession, card: DynoSessionCard) -> None:
    """Change weather or standard; the verdict is made anew. Raises InputError as `open_session`."""
    _check_standard(application, card.standard)
    put(session, card, gear=card.gear or "")
    say(work, PullsChanged(session))


def take_air(work: UnitOfWork, session: DynoSession, temperature: float, pressure: float, humidity: float) -> None:
    """Take the air of a weather station for a session [K, Pa, 1]; the verdict is made anew."""
    session.temperature, session.pressure, session.humidity = temperature, pressure, humidity
    say(work, PullsChanged(session))


def receive(work: UnitOfWork, session: DynoSession, filename: str, data: bytes | IO[bytes]) -> RawFile:
    """Keep a file as received; a large one is read by a worker afterwards.

    Raises InputError if it is no readable log or was received before.
    """
    received = _received(work, session, filename, data)
    if is_large(received.size):
        logs.ask(work, received)
    else:
        logs.read(work, received, data)
    return received


def receive_live(work: UnitOfWork, session: DynoSession, filename: str, written: LiveLog) -> RawFile:
    """Keep a file that was made of live lines: what it holds is known. Raises InputError as `receive`."""
    received = _received(work, session, filename, written.data)
    logs.keep(work, received, written.facts, written.block)
    return received


def _received(work: UnitOfWork, session: DynoSession, filename: str, data: bytes | IO[bytes]) -> RawFile:
    try:
        blob = blobs.keep(work, data, MOST_BYTES)
    except InputError as error:
        raise InputError(error.message.replace("This file", filename, 1), "file") from None
    work.lock_row(session)  # the same file may come from two pages at once
    twin = work.scalar(select(RawFile).where(RawFile.session_id == session.id, RawFile.sha256 == blob.sha256))
    if twin is not None:
        places = sorted({r.pull.sequence for r in (*twin.readings, *twin.joined)})
        where = f"as pull {', '.join(map(str, places))}" if places else "and waits to be mapped"
        raise InputError(
            f"{filename} is the same file as {twin.filename}, which is already here {where}. "
            "Upload the other pull, or leave it out.",
            "file",
        )
    # the moment of the first counts; of the others nothing does, before a pull is made of one
    is_first = work.scalar(select(RawFile.id).where(RawFile.session_id == session.id).limit(1)) is None
    received = RawFile(
        session=session,
        session_id=session.id,
        filename=filename,
        sha256=blob.sha256,
        size=blob.size,
        blob_id=blob.id,
        received_by_id=work.actor.id,
    )
    received.audit_bears = is_first
    work.add(received)
    work.flush()
    return received


@dataclass(frozen=True)
class FileStretch:
    """A stretch of a received file and how its columns are read."""

    file: RawFile
    part: Part
    mapping: formats_mapping.Mapping


@dataclass(frozen=True)
class NewPull:
    """One pull to record: where its channels come from, its place in the order, its letter; sweep, steady or idle; a second file
    of the same pull; the smoothing [s] where torque is made from roller speed; what the source was asked once."""

    source: FileStretch
    place: int
    label: str
    kind: str = "sweep"
    logger: FileStretch | None = None
    smoothing: float | None = None
    told: dict[str, Any] = field(default_factory=dict)


def _log(work: UnitOfWork, file: RawFile) -> Log:
    return logs.known(work, file) or logs.read(work, file)


def contents_of(work: UnitOfWork, new: NewPull) -> list[twins.Content]:
    """The stretches of files that a pull is made of, as they were written: the second is a logger's."""
    sources = [source for source in (new.source, new.logger) if source is not None]
    return [
        twins.content_of(source.file, source.part, table, source.mapping)
        for source in sources
        for table in logs.parts(work, source.file, _log(work, source.file), [source.part])
    ]


def read_source(session: DynoSession, new: NewPull, contents: Sequence[twins.Content]) -> tuple[Read, float | None]:
    """The channels of a pull as its files give them, and the lag [s] of a second file. Raises InputError naming a channel."""
    read = _columns(contents[0], new.source)
    lag = None
    if new.logger is not None:
        read, found = reading.joined(read, _columns(contents[1], new.logger))
        lag = found.lag if found is not None else None
    return (reading.with_torque(read, session.card.dyno, new.smoothing) if new.kind == "sweep" else read), lag


def _columns(content: twins.Content, source: FileStretch) -> Read:
    read = reading.columns_of(content.table, source.mapping)
    return replace(read, told={"source": content.table.fingerprint})


def judged(
    work: UnitOfWork,
    application: Application,
    session: DynoSession,
    new: NewPull,
    read: Read,
    without: Collection[int] = (),
) -> tuple[tuple[Check, ...], dict[str, Any]]:
    """What the checks say of a pull, and what stays known of it for those that come after. without: places of pulls that say nothing
    of it."""
    if new.kind != "sweep":
        return checks_of_point(read.channels, new.kind == "idle"), {"means": means_of(read.channels)}
    sweep = pulls.make_sweep(read.channels)
    rules = replace(rules_of(work, session, application.vehicle, new.label), clocks=new.told.get("clocks", {}))
    facts = log_facts(sweep, rules)
    beside = company_of(work, session, application.vehicle, new.place, new.label, without)
    return checks_of(sweep, rules, beside, facts), {"facts": facts.to_json()}


def record(work: UnitOfWork, application: Application, new: NewPull) -> Pull:
    """Record a pull: its channels, the outcome of its checks, and the first judgement. The first pull seals the prediction.

    Raises InputError if the file cannot be read that way or the place is taken, StandsAlready if the house has this pull.
    """
    file, session = new.source.file, new.source.file.session
    if not session.pulls:  # nobody changes the card while its first pull comes in; afterwards it never changes
        work.get(TestCard, session.card_id, with_for_update={"read": True, "of": TestCard})
    if any(pull.sequence == new.place for pull in session.pulls):
        raise InputError(f"Place {new.place} is taken by another pull.", f"f{file.id}-place")
    contents = contents_of(work, new)
    if new.kind == SWEEP:
        twins.hold(work, contents)
        twin = twins.known_as(work, contents)
        if twin is not None:
            raise twins.StandsAlready(twin, f"f{file.id}-place")
    read, lag = read_source(session, new, contents)
    checks, known = judged(work, application, session, new, read)
    say(work, PullComes(application, session.card))
    pull = Pull(session=session, session_id=session.id, sequence=new.place, label=new.label, kind=new.kind)
    pull.readings, pull.judgements = [], []
    work.add(pull)
    _put_reading(work, pull, new, read, lag, checks, known)
    twins.keep_traces(work, pull, contents)
    _judge_by(work, pull, checks)
    return pull


def _put_reading(
    work: UnitOfWork,
    pull: Pull,
    new: NewPull,
    read: Read,
    lag: float | None,
    checks: tuple[Check, ...],
    known: dict[str, Any],
    why: str = "",
) -> PullReading:
    kept = PullReading(
        pull=pull,
        pull_id=pull.id,
        number=len(pull.readings) + 1,
        file_id=new.source.file.id,
        file=new.source.file,
        part=new.source.part.to_json(),
        columns=formats_mapping.to_json(new.source.mapping),
        told={**new.told, **read.told, **known, **_logger_told(new)},
        checks=[asdict(check) for check in checks],
        logger_file_id=new.logger.file.id if new.logger is not None else None,
        logger_file=new.logger.file if new.logger is not None else None,
        lag=lag,
        why=why,
        made_by_id=work.actor.id,
    )
    kept.made_by = work.actor
    work.add(kept)
    work.flush()
    for name, values in read.channels.items():
        work.add(
            Channel(
                reading_id=kept.id,
                name=name,
                label=read.labels.get(name, ""),
                kind=reading.kind_of(name),
                rate=read.rates.get(name),
                values=values,
            )
        )
    return kept


def _logger_told(new: NewPull) -> dict[str, Any]:
    if new.logger is None:
        return {}
    columns = formats_mapping.to_json(new.logger.mapping)
    return {"logger": {"part": new.logger.part.to_json(), "columns": columns}}


def _judge_by(work: UnitOfWork, pull: Pull, checks: Sequence[Check]) -> None:
    failed = [check for check in checks if check.passed is False]
    _judge(work, pull, is_valid(checks), " ".join(c.sentence for c in failed) or "All checks passed.", automatic=True)


@dataclass(frozen=True)
class Again:
    """A pull to read anew: by which columns, and why; where that departs from what its file says (None: as before); places
    of those that are read anew after it, and say nothing of it yet."""

    pull: Pull
    mapping: formats_mapping.Mapping
    why: str
    smoothing: float | None = None
    departs: tuple[str, ...] | None = None
    waiting: frozenset[int] = frozenset()


def read_again(work: UnitOfWork, application: Application, again: Again) -> PullReading:
    """Read a pull's file anew by another mapping, as the next version of its reading; the earlier one stays.

    A judgement by a person stands; the software's own is made anew. Raises InputError as `record`, or where nothing would change.
    """
    pull, before = again.pull, again.pull.read
    if formats_mapping.to_json(again.mapping) == before.columns and again.smoothing is None:
        raise InputError("It is read that way already.", "why")
    work.lock_row(pull.session)
    source = FileStretch(before.file, _part_of(work, before), again.mapping)
    smoothing = again.smoothing or before.told.get("smoothing")
    told = told_of(before) if again.departs is None else {**told_of(before), "departs": list(again.departs)}
    new = NewPull(source, pull.sequence, pull.label, pull.kind, _logger_of(before), smoothing, told)
    read, lag = read_source(pull.session, new, contents_of(work, new))
    checks, known = judged(work, application, pull.session, new, read, again.waiting)
    kept = _put_reading(work, pull, new, read, lag, checks, known, again.why)
    if pull.judgements[-1].automatic:
        _judge_by(work, pull, checks)
    return kept


TOLD_ONCE = ("operator", "smoothing_by_source", "calibration", "clocks", "weather", "live")


def told_of(read: PullReading) -> dict[str, Any]:
    """What the source was asked once, of a reading."""
    return {name: read.told[name] for name in (*TOLD_ONCE, "departs") if name in read.told}


def _part_of(work: UnitOfWork, read: PullReading) -> Part:
    if read.part:
        return Part(**read.part)
    return Part(0, 0, _log(work, read.file).tables[0].rows - 1)


def _logger_of(read: PullReading) -> FileStretch | None:
    if read.logger_file is None:
        return None
    told = read.told["logger"]
    return FileStretch(read.logger_file, Part(**told["part"]), formats_mapping.from_json(told["columns"]))


def _judge(work: UnitOfWork, pull: Pull, valid: bool, reason: str, automatic: bool = False) -> None:
    judgement = PullJudgement(
        pull=pull, pull_id=pull.id, valid=valid, reason=reason, automatic=automatic, made_by_id=work.actor.id
    )
    judgement.made_by = work.actor
    work.add(judgement)
    work.flush()


def judge_pull(work: UnitOfWork, application: Application, pull: Pull, valid: bool, reason: str) -> None:
    """Let a pull count or take it out, with a reason; the earlier judgement stays in the record."""
    _judge(work, pull, valid, reason)
    say(work, PullsChanged(pull.session))
