"""Any log: bytes kept once and packed, pulls with readings, typed pulls, conditions that are asked for, health of engines

Revision ID: 0012
Revises: 0011
"""

import zlib

import sqlalchemy as sa
from alembic import op

from longbreath.store.migrations.columns import DATE, DOUBLE, INT, JSONB, MOMENT, TEXT, col, foreign, make_table

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

PART = 4 * 1024 * 1024
APPEND_ONLY = ("blob", "blob_part", "pull_reading", "typed_pull", "pull_condition", "health_entry")
TABLES = ("blob", "blob_part", "log_read", "pull_reading", "typed_pull", "pull_condition", "health_entry")
COLUMNS = (
    ("dyno", col("roller_inertia", DOUBLE, "kg m2, of rollers and what turns with them", null=True)),
    ("dyno", col("roller_radius", DOUBLE, "m", null=True)),
    ("source_mapping", col("told", JSONB, "scale of the mixture meter, smoothing …", default="{}")),
    ("pull", col("kind", TEXT, "sweep, steady or idle", default="sweep")),
    ("channel", col("label", TEXT, "what the source calls it", default="")),
    ("channel", col("rate", DOUBLE, "Hz at which the source wrote it; no detail is finer", null=True)),
    ("attachment", col("blob_id", INT, "where it is too large for a row: a video", null=True)),
)
FIRST_READINGS = """
insert into pull_reading (id, pull_id, number, file_id, part, columns, told, checks, why, made_at, made_by_id)
  select p.id, p.id, 1, p.file_id, '{}', p.columns, '{}', p.checks, '', f.received_at, f.received_by_id
  from pull p join raw_file f on f.id = p.file_id order by p.id;
select setval(pg_get_serial_sequence('pull_reading', 'id'), coalesce((select max(id) from pull), 0) + 1, false);
"""
NEWEST_READINGS = """
alter table pull disable trigger append_only;
update pull p set file_id = r.file_id, columns = r.columns, checks = r.checks from pull_reading r
  where r.pull_id = p.id and r.number = (select max(number) from pull_reading x where x.pull_id = p.id);
alter table pull enable trigger append_only;
alter table channel disable trigger append_only;
delete from channel c using pull_reading r where r.id = c.reading_id
  and r.number < (select max(number) from pull_reading x where x.pull_id = r.pull_id);
update channel c set reading_id = r.pull_id from pull_reading r where r.id = c.reading_id;
alter table channel enable trigger append_only;
"""


def upgrade() -> None:
    """Make the tables; what was received before is packed, what was recorded before becomes the first reading of its pull."""
    _make_blobs()
    _make_readings()
    _make_others()
    for table, column in COLUMNS:
        op.add_column(table, col(column.name, column.type, column.comment, column.nullable, _default(column)))
        if column.server_default is not None:
            op.alter_column(table, column.name, server_default=None)
    op.create_foreign_key(op.f("fk_attachment_blob_id_blob"), "attachment", "blob", ["blob_id"], ["id"])
    op.alter_column("attachment", "data", nullable=True)
    op.create_check_constraint(op.f("ck_pull_kind"), "pull", "kind in ('sweep', 'steady', 'idle')")
    _pack_files()
    op.execute(FIRST_READINGS)
    op.drop_constraint(op.f("fk_channel_pull_id_pull"), "channel", type_="foreignkey")
    op.drop_index(op.f("ix_channel_pull_id"), table_name="channel")
    op.drop_constraint(op.f("uq_channel_pull_id"), "channel", type_="unique")
    op.alter_column("channel", "pull_id", new_column_name="reading_id")
    op.create_foreign_key(op.f("fk_channel_reading_id_pull_reading"), "channel", "pull_reading", ["reading_id"], ["id"])
    op.create_unique_constraint(op.f("uq_channel_reading_id"), "channel", ["reading_id", "name"])
    for column in ("file_id", "columns", "checks"):
        op.drop_column("pull", column)
    for table in APPEND_ONLY:
        op.execute(
            f"create trigger append_only before update or delete on {table} for each row execute function forbid_change()"
        )
        op.execute(
            f"create trigger no_truncate before truncate on {table} for each statement execute function forbid_truncate()"
        )


def _default(column: sa.Column) -> str | None:
    return str(column.server_default.arg) if column.server_default is not None else None


def _make_blobs() -> None:
    make_table(
        "blob",
        col("sha256", TEXT),
        col("size", sa.BigInteger(), "bytes, unpacked"),
        col("kept_at", MOMENT),
        sa.UniqueConstraint("sha256", name=op.f("uq_blob_sha256")),
    )
    make_table(
        "blob_part",
        col("blob_id", INT),
        col("number", INT, "place in the blob, from 0"),
        col("size", INT, "bytes, unpacked"),
        col("data", sa.LargeBinary()),
        foreign("blob_part", "blob_id", "blob"),
        sa.UniqueConstraint("blob_id", "number", name=op.f("uq_blob_part_blob_id")),
    )
    op.execute("alter table blob_part alter column data set storage external")  # it is packed already


def _make_readings() -> None:
    make_table(
        "log_read",
        col("file_id", INT),
        col("facts", JSONB, "tables with headers, units and rows, or why it was refused"),
        col("thin", sa.LargeBinary(), "figures of the tables, packed float64"),
        col("read_at", MOMENT),
        foreign("log_read", "file_id", "raw_file"),
        sa.UniqueConstraint("file_id", name=op.f("uq_log_read_file_id")),
    )
    make_table(
        "pull_reading",
        col("pull_id", INT),
        col("number", INT, "version, from 1"),
        col("file_id", INT),
        col("part", JSONB, "table of the file, first and last row; empty: all of it"),
        col("columns", JSONB, "the column mapping it was read with"),
        col("told", JSONB, "scale of the mixture meter, smoothing …"),
        col("checks", JSONB, "outcome of each check when it was read"),
        col("logger_file_id", INT, "a second file of the same pull", null=True),
        col("lag", DOUBLE, "s, what the second file's clock is behind", null=True),
        col("why", TEXT, "why it was read anew"),
        col("made_at", MOMENT),
        col("made_by_id", INT),
        foreign("pull_reading", "pull_id", "pull"),
        foreign("pull_reading", "file_id", "raw_file"),
        foreign("pull_reading", "logger_file_id", "raw_file"),
        foreign("pull_reading", "made_by_id", "user_account"),
        sa.UniqueConstraint("pull_id", "number", name=op.f("uq_pull_reading_pull_id")),
    )
    for column in ("pull_id", "file_id", "logger_file_id"):
        op.create_index(op.f(f"ix_pull_reading_{column}"), "pull_reading", [column])


def _make_others() -> None:
    make_table(
        "typed_pull",
        col("session_id", INT),
        col("label", TEXT, "letter of the variant"),
        col("source", TEXT, "the sheet or photo it stands on"),
        col("rows", JSONB, "speed [rad/s], torque [N m] or null, power [W] or null"),
        col("checks", JSONB),
        col("replaces_id", INT, null=True),
        col("made_at", MOMENT),
        col("made_by_id", INT),
        foreign("typed_pull", "session_id", "dyno_session"),
        foreign("typed_pull", "replaces_id", "typed_pull"),
        foreign("typed_pull", "made_by_id", "user_account"),
        sa.UniqueConstraint("replaces_id", name=op.f("uq_typed_pull_replaces_id")),
    )
    make_table(
        "pull_condition",
        col("session_id", INT),
        col("label", TEXT),
        col("name", TEXT),
        col("words", TEXT),
        col("made_at", MOMENT),
        col("made_by_id", INT),
        foreign("pull_condition", "session_id", "dyno_session"),
        foreign("pull_condition", "made_by_id", "user_account"),
    )
    make_table(
        "health_entry",
        col("engine_id", INT, null=True),
        col("vehicle_id", INT, null=True),
        col("held_on", DATE),
        col("kind", TEXT, "compression, leak-down, oil …"),
        col("figures", JSONB, "one per cylinder or one alone, SI"),
        col("words", TEXT),
        col("state", TEXT, "sound, finding, or done: a repair or change"),
        col("told", TEXT, "what the figures say"),
        col("replaces_id", INT, null=True),
        col("made_at", MOMENT),
        col("made_by_id", INT),
        sa.CheckConstraint("(engine_id is null) <> (vehicle_id is null)", name=op.f("ck_health_entry_one_carrier")),
        sa.CheckConstraint("state in ('sound', 'finding', 'done')", name=op.f("ck_health_entry_state")),
        foreign("health_entry", "engine_id", "test_engine"),
        foreign("health_entry", "vehicle_id", "vehicle"),
        foreign("health_entry", "replaces_id", "health_entry"),
        foreign("health_entry", "made_by_id", "user_account"),
        sa.UniqueConstraint("replaces_id", name=op.f("uq_health_entry_replaces_id")),
    )
    for table, column in (
        ("typed_pull", "session_id"),
        ("pull_condition", "session_id"),
        ("health_entry", "engine_id"),
        ("health_entry", "vehicle_id"),
    ):
        op.create_index(op.f(f"ix_{table}_{column}"), table, [column])


def _pack_files() -> None:
    """Contents of files into blobs, each once."""
    db = op.get_bind()
    op.add_column("raw_file", col("blob_id", INT, null=True))
    op.execute("alter table raw_file disable trigger append_only")
    for number, digest in db.execute(
        sa.text("select distinct on (sha256) id, sha256 from raw_file order by sha256, id")
    ).all():
        content = bytes(db.execute(sa.text("select content from raw_file where id = :id"), {"id": number}).scalar())
        made = "insert into blob (sha256, size, kept_at) values (:sha256, :size, now()) returning id"
        blob = db.execute(sa.text(made), {"sha256": digest, "size": len(content)}).scalar()
        for place, start in enumerate(range(0, len(content), PART)):
            part = content[start : start + PART]
            kept = "insert into blob_part (blob_id, number, size, data) values (:blob, :number, :size, :data)"
            db.execute(
                sa.text(kept), {"blob": blob, "number": place, "size": len(part), "data": zlib.compress(part, 1)}
            )
        told = {"blob": blob, "sha256": digest}
        db.execute(sa.text("update raw_file set blob_id = :blob where sha256 = :sha256"), told)
    op.execute("alter table raw_file enable trigger append_only")
    op.alter_column("raw_file", "blob_id", nullable=False)
    op.create_foreign_key(op.f("fk_raw_file_blob_id_blob"), "raw_file", "blob", ["blob_id"], ["id"])
    op.drop_column("raw_file", "content")
    op.drop_column("raw_file", "fingerprint")


def _unpack_files() -> None:
    db = op.get_bind()
    op.add_column("raw_file", col("content", sa.LargeBinary(), null=True))
    op.add_column("raw_file", col("fingerprint", TEXT, "identifies the source by its header", default=""))
    op.alter_column("raw_file", "fingerprint", server_default=None)
    op.execute("alter table raw_file disable trigger append_only")
    for number, blob in db.execute(sa.text("select id, blob_id from raw_file")).all():
        kept = db.execute(sa.text("select data from blob_part where blob_id = :blob order by number"), {"blob": blob})
        content = b"".join(zlib.decompress(data) for (data,) in kept)
        db.execute(sa.text("update raw_file set content = :content where id = :id"), {"content": content, "id": number})
    op.execute("alter table raw_file enable trigger append_only")
    op.alter_column("raw_file", "content", nullable=False)
    op.drop_column("raw_file", "blob_id")


def downgrade() -> None:
    """Back to one file a pull. Raises RuntimeError where a file holds several pulls: they have no place there."""
    shared = "select file_id from pull_reading group by file_id having count(distinct pull_id) > 1 limit 1"
    if op.get_bind().execute(sa.text(shared)).scalar() is not None:
        raise RuntimeError("A file holds several pulls; before this revision each pull had a file of its own.")
    op.add_column("pull", col("file_id", INT, null=True))
    op.add_column("pull", col("columns", JSONB, "the column mapping it was read with", default="{}"))
    op.add_column("pull", col("checks", JSONB, "outcome of each check when it was recorded", default="[]"))
    op.drop_constraint(op.f("fk_channel_reading_id_pull_reading"), "channel", type_="foreignkey")
    op.execute(NEWEST_READINGS)
    for column in ("columns", "checks"):
        op.alter_column("pull", column, server_default=None)
    op.alter_column("pull", "file_id", nullable=False)
    op.create_foreign_key(op.f("fk_pull_file_id_raw_file"), "pull", "raw_file", ["file_id"], ["id"])
    op.create_unique_constraint(op.f("uq_pull_file_id"), "pull", ["file_id"])
    op.drop_constraint(op.f("uq_channel_reading_id"), "channel", type_="unique")
    op.alter_column("channel", "reading_id", new_column_name="pull_id")
    op.create_unique_constraint(op.f("uq_channel_pull_id"), "channel", ["pull_id", "name"])
    op.create_index(op.f("ix_channel_pull_id"), "channel", ["pull_id"])
    op.create_foreign_key(op.f("fk_channel_pull_id_pull"), "channel", "pull", ["pull_id"], ["id"])
    _unpack_files()
    op.drop_constraint(op.f("ck_pull_kind"), "pull", type_="check")
    op.execute("alter table attachment disable trigger append_only; delete from attachment where data is null")
    op.execute("alter table attachment enable trigger append_only")
    op.alter_column("attachment", "data", nullable=False)
    for table, column in COLUMNS:
        op.drop_column(table, column.name)
    for table in reversed(TABLES):
        op.drop_table(table)
