"""Stamps of dossiers: as long as a stamp is the same, nothing that is made of an application's records has changed.

A counter each, counted up once in the transaction that writes: of the dossiers in which something was written, and of those that a
row of the library bears on. A card's pulls are evidence of every dossier that it serves, and a test that measured a difference alone
is evidence of the dossier that takes it off: their counters are summed.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from sqlalchemy import text
from sqlalchemy.orm import Session

EVERYBODY = 0
"""The counter of what bears on all dossiers."""
_STAMPS = text("""
select a.id,
  coalesce((select sum(s.number) from dossier_stamp s where s.application_id in (select a.id union
    select q.application_id from card_pair p join card_pair q on q.card_id = p.card_id where p.application_id = a.id union
    select q.application_id from difference_reason d join dyno_session s on s.id = d.session_id
      join card_pair q on q.card_id = s.card_id where d.application_id = a.id)), 0)
  || ' ' || coalesce((select number from dossier_stamp where application_id = 0), 0),
  pg_current_xact_id_if_assigned() is not null
from application a where a.id = any(:ids)
""")
_COUNT = text("""
insert into dossier_stamp (application_id, number) select n, 1 from unnest(cast(:ids as integer[])) n order by n
on conflict (application_id) do update set number = dossier_stamp.number + 1
""")
_ON_DYNO = (
    """select p.application_id from card_pair p join test_card c on c.id = p.card_id where c.dyno_id = any(:ids)"""
)
_OF_REVISION = """
select id from application where revision_id = any(:ids) or stock_revision_id = any(:ids)
union select v.application_id from variant v join variant_part p on p.variant_id = v.id where p.revision_id = any(:ids)"""
_OF_ENGINE = """select p.application_id from card_pair p join dyno_session s on s.card_id = p.card_id where s.engine_id = any(:ids)"""
_ON_BENCH = "select application_id from bench_session where bench_id = any(:ids)"
_OF_VEHICLE = "select id from application where vehicle_id = any(:ids)"
BEARING: dict[str, tuple[tuple[str, str], ...]] = {
    "vehicle": (("id", _OF_VEHICLE),),
    "product": (
        ("id", _OF_REVISION.replace("any(:ids)", "any(select id from revision where product_id = any(:ids))")),
    ),
    "revision": (("id", _OF_REVISION),),
    "dyno": (("id", _ON_DYNO),),
    "dyno_scatter": (("dyno_id", _ON_DYNO),),
    "health_entry": (("vehicle_id", _OF_VEHICLE), ("engine_id", _OF_ENGINE)),
    "test_engine": (("id", _OF_ENGINE),),
    "engine_stay": (("engine_id", _OF_ENGINE),),
    "bench": (("id", _ON_BENCH),),
    "bench_range": (("bench_id", _ON_BENCH),),
    "calibration": (("bench_id", _ON_BENCH),),
    "tune_file": (("id", "select application_id from variant where tune_id = any(:ids)"),),
    "sample": (
        (
            "id",
            "select v.application_id from variant v join variant_part p on p.variant_id = v.id where p.sample_id = any(:ids)",
        ),
    ),
    "fuel_batch": (
        (
            "id",
            "select p.application_id from card_pair p join dyno_session s on s.card_id = p.card_id where s.fuel_id = any(:ids)",
        ),
    ),
    **dict.fromkeys(
        (
            "calendar_key",
            "cell",
            "checklist",
            "instrument_address",
            "outside_table",
            "owed_link",
            "password_link",
            "selling_text",
            "sensor",
            "sign_in_try",
            "signing_key",
            "source_mapping",
            "user_account",
        ),
        (),
    ),
}
"""Rows that belong to no dossier, by table: the column whose values tell on which dossiers they bear, and how. What stands not here
bears on all."""


def stamps_of(db: Session, ids: Sequence[int]) -> dict[int, str] | None:
    """The stamp of each application by its id; None for a transaction that wrote something: nobody else may see what it sees."""
    db.flush()
    rows = (
        db.connection().execute(_STAMPS, {"ids": list(ids)}).all()
    )  # past the session: it reads nothing that is kept there
    if any(has_written for *_, has_written in rows):
        return None
    return {number: stamp for number, stamp, _ in rows}


def count(db: Session, dossiers: Iterable[int], shared: Iterable[tuple[str, str, int]]) -> None:
    """Count up the stamps of dossiers in which something was written, and of those that shared rows bear on, given as table, column
    and value. Last in a transaction: until it ends others who count the same wait."""
    ids, asked = set(dossiers), dict[str, set[int]]()
    for table, column, value in shared:
        if table not in BEARING:
            ids.add(EVERYBODY)
        for name, query in BEARING.get(table, ()):
            if name == column:
                asked.setdefault(query, set()).add(value)
    for query, values in asked.items():
        ids |= set(db.scalars(text(query), {"ids": sorted(values)}))
    if ids:
        db.execute(_COUNT, {"ids": sorted(ids)})
