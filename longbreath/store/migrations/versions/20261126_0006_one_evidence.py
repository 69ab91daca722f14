"""Claims are made of facts, their acts and sheets append-only; predictions have seals; cards stay as pulls were taken under them

Revision ID: 0006
Revises: 0005
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

NEW_APPEND_ONLY = ("claim_act", "claim_sheet", "prediction", "prediction_seal", "difference_reason")
OLD_APPEND_ONLY = (
    "audit_entry",
    "raw_file",
    "reading",
    "reading_mark",
    "pull",
    "channel",
    "pull_judgement",
    "calibration",
    "bench_sheet",
    "traverse_point",
    "porting_bout",
    "size_reading",
    "face_lay",
    "fit_spot",
    "wheel_sheet",
    "build_sheet",
    "attachment",
    "attachment_mark",
)

HELD = """
create function hold_published() returns trigger language plpgsql as $$
begin
  if exists (select from claim_sheet where claim_id = old.id) then
    raise exception 'claim % is published: it is kept as it was approved', old.id;
  end if;
  return case when tg_op = 'DELETE' then old else new end;
end $$;
create trigger published before update or delete on claim for each row execute function hold_published();

create function hold_card() returns trigger language plpgsql as $$
begin
  if exists (select from dyno_session s join pull p on p.session_id = s.id where s.card_id = old.id) then
    raise exception 'test card % has pulls: it is kept as they were taken under it', old.id;
  end if;
  return case when tg_op = 'DELETE' then old else new end;
end $$;
create trigger recorded before update or delete on test_card for each row execute function hold_card();

create function hold_session_card() returns trigger language plpgsql as $$
begin
  if (new.card_id <> old.card_id or new.application_id <> old.application_id)
      and exists (select from pull where session_id = old.id) then
    raise exception 'dyno session % has pulls: it keeps the card they were taken under', old.id;
  end if;
  return new;
end $$;
create trigger recorded before update on dyno_session for each row execute function hold_session_card();

create function second_person() returns trigger language plpgsql as $$
begin
  if exists (select from claim_act where claim_id = new.claim_id and by_id = new.approved_by_id
      and act in ('drafted', 'changed', 'submitted')) then
    raise exception 'ck_claim_second_person: whoever wrote a claim cannot approve it';
  end if;
  return new;
end $$;
create trigger second_person before insert on claim_sheet for each row execute function second_person();

create function forbid_truncate() returns trigger language plpgsql as $$
begin
  raise exception 'rows of % are evidence: they are added, never changed or removed', tg_table_name;
end $$;
"""

CARRY_OVER = """
insert into claim_act (claim_id, number, act, by_id, at, reason)
  select id, 1, 'drafted', drafted_by_id, drafted_at, '' from claim
  union all select id, 2, 'submitted', drafted_by_id, coalesce(published_at, drafted_at), '' from claim where state <> 'draft'
  union all select id, 3, 'published', approved_by_id, published_at, '' from claim where published_at is not null
  union all select id, 4, 'withdrawn', coalesce(withdrawn_by_id, approved_by_id), withdrawn_at, withdrawal_reason
    from claim where withdrawn_at is not null;
insert into claim_sheet (claim_id, shape, snapshot, evidence_key, version_read, read, approved_by_id, published_at)
  select id, coalesce((snapshot ->> 'shape')::int, 1),
    snapshot || jsonb_build_object('statement', statement, 'trade_off', trade_off), evidence_key, 2, '', approved_by_id, published_at
    from claim where published_at is not null;
update claim set typed = jsonb_build_object('statement', statement, 'trade_off', trade_off),
  lines = coalesce(snapshot -> 'lines', '[]'::jsonb), joined = coalesce((snapshot ->> 'joined')::boolean, false),
  description = coalesce(snapshot ->> 'description', '');
insert into prediction_seal (prediction_id, sealed_at) select id, sealed_at from prediction where sealed_at is not null;
update verdict set session_ids = coalesce((select jsonb_agg(id) from (select s.id from dyno_session s
  where s.application_id = verdict.application_id order by s.held_on desc, s.id desc limit 1) newest), '[]'::jsonb);
"""

CARRY_BACK = """
update claim c set
  state = case (select act from claim_act a where a.claim_id = c.id order by number desc limit 1)
    when 'submitted' then 'submitted' when 'published' then 'published' when 'withdrawn' then 'withdrawn'
    when 'superseded' then 'withdrawn' else 'draft' end,
  statement = coalesce(typed ->> 'statement', ''), trade_off = coalesce(typed ->> 'trade_off', ''),
  drafted_by_id = (select by_id from claim_act a where a.claim_id = c.id order by number limit 1),
  drafted_at = (select at from claim_act a where a.claim_id = c.id order by number limit 1);
update claim c set
  statement = coalesce(s.snapshot ->> 'statement', ''), trade_off = coalesce(s.snapshot ->> 'trade_off', ''),
  snapshot = s.snapshot || jsonb_build_object('lines', c.lines, 'joined', c.joined, 'description', c.description),
  evidence_key = s.evidence_key, approved_by_id = s.approved_by_id, published_at = s.published_at
  from claim_sheet s where s.claim_id = c.id;
update claim c set withdrawn_at = a.at, withdrawn_by_id = a.by_id,
  withdrawal_reason = case a.act when 'superseded' then 'superseded: ' || a.reason else a.reason end
  from claim_act a where a.claim_id = c.id and a.act in ('withdrawn', 'superseded');
update prediction p set sealed_at = s.sealed_at from prediction_seal s where s.prediction_id = p.id;
"""


def _json(name: str, nullable: bool, comment: str | None = None, default: str | None = None) -> sa.Column:
    kind = postgresql.JSONB(astext_type=sa.Text())
    return sa.Column(name, kind, nullable=nullable, comment=comment, server_default=default)


def _text(name: str, comment: str | None = None, default: str | None = None) -> sa.Column:
    return sa.Column(name, sa.String(), nullable=False, comment=comment, server_default=default)


def _person(name: str, nullable: bool = False, comment: str | None = None) -> sa.Column:
    return sa.Column(name, sa.Integer(), nullable=nullable, comment=comment)


def _moment(name: str, nullable: bool = False) -> sa.Column:
    return sa.Column(name, sa.DateTime(timezone=True), nullable=nullable)


def _key(table: str, column: str, to: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f"{to}.id"], name=op.f(f"fk_{table}_{column}_{to}"))


def upgrade() -> None:
    """Make the new tables, carry over what was claimed and sealed, then hold it."""
    _tables()
    op.add_column("claim", _json("lines", False, "facts in their order: fact, phrasing, short", "[]"))
    joined = sa.Column(
        "joined", sa.Boolean(), nullable=False, server_default="false", comment="one sentence instead of several"
    )
    op.add_column("claim", joined)
    op.add_column("claim", _text("description", "of the part; not a measured statement", ""))
    op.add_column("claim", _json("typed", True, "words typed before statements were made of facts"))
    op.add_column("verdict", _json("session_ids", False, "the dyno sessions that count", "[]"))
    op.add_column("application", _person("approval_by_id", True, "who stated it"))
    op.create_foreign_key(
        op.f("fk_application_approval_by_id_user_account"), "application", "user_account", ["approval_by_id"], ["id"]
    )
    op.execute(CARRY_OVER)
    for table, columns in (("claim", ("lines", "joined", "description")), ("verdict", ("session_ids",))):
        for column in columns:
            op.alter_column(table, column, server_default=None)
    op.alter_column(
        "claim",
        "evidence_key",
        comment="identifies the evidence the facts were chosen on",
        existing_comment="identifies the evidence it was published on",
    )
    op.alter_column(
        "verdict",
        "evidence_key",
        comment="identifies the evidence it was made from",
        existing_comment="identifies the pulls and judgements it was made from",
    )
    op.drop_constraint(op.f("ck_claim_second_person"), "claim", type_="check")
    op.drop_constraint(op.f("ck_claim_state"), "claim", type_="check")
    for column in OLD_CLAIM:
        op.drop_column("claim", column)
    op.drop_column("prediction", "sealed_at")
    op.execute(HELD)
    for table in NEW_APPEND_ONLY:
        op.execute(
            f"create trigger append_only before update or delete on {table} "
            "for each row execute function forbid_change()"
        )
    for table in (*OLD_APPEND_ONLY, *NEW_APPEND_ONLY):
        op.execute(
            f"create trigger no_truncate before truncate on {table} for each statement execute function forbid_truncate()"
        )


OLD_CLAIM = (
    "state",
    "statement",
    "trade_off",
    "snapshot",
    "drafted_by_id",
    "drafted_at",
    "approved_by_id",
    "published_at",
    "withdrawn_at",
    "withdrawn_by_id",
    "withdrawal_reason",
    "version",
)


def _tables() -> None:
    op.create_table(
        "claim_act",
        sa.Column("claim_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        _text("act"),
        _person("by_id"),
        _moment("at"),
        _text("reason"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint(
            "act in ('drafted', 'changed', 'submitted', 'returned', 'published', 'withdrawn', 'superseded')",
            name=op.f("ck_claim_act_act"),
        ),
        _key("claim_act", "claim_id", "claim"),
        _key("claim_act", "by_id", "user_account"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_claim_act")),
        sa.UniqueConstraint("claim_id", "number", name=op.f("uq_claim_act_claim_id")),
    )
    op.create_index(op.f("ix_claim_act_claim_id"), "claim_act", ["claim_id"])
    op.create_table(
        "claim_sheet",
        sa.Column("claim_id", sa.Integer(), nullable=False),
        sa.Column(
            "shape", sa.Integer(), nullable=False, comment="version of the snapshot's shape: 1 typed words, 2 facts"
        ),
        _json("snapshot", False, "all that the sheet shows"),
        _text("evidence_key", "identifies the evidence it was published on"),
        sa.Column("version_read", sa.Integer(), nullable=False, comment="number of the act that its approver had read"),
        _text("read", "digest of what the approver read"),
        _person("approved_by_id"),
        _moment("published_at"),
        sa.Column("id", sa.Integer(), nullable=False),
        _key("claim_sheet", "claim_id", "claim"),
        _key("claim_sheet", "approved_by_id", "user_account"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_claim_sheet")),
        sa.UniqueConstraint("claim_id", name=op.f("uq_claim_sheet_claim_id")),
    )
    op.create_table(
        "prediction_seal",
        sa.Column("prediction_id", sa.Integer(), nullable=False),
        _moment("sealed_at"),
        sa.Column("id", sa.Integer(), nullable=False),
        _key("prediction_seal", "prediction_id", "prediction"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_prediction_seal")),
        sa.UniqueConstraint("prediction_id", name=op.f("uq_prediction_seal_prediction_id")),
    )
    op.create_table(
        "difference_reason",
        sa.Column("application_id", sa.Integer(), nullable=False),
        _text("line", "line of the build sheet, or “card”"),
        _text("a", "A's words"),
        _text("b", "B's words"),
        _text("reason"),
        _moment("given_at"),
        _person("given_by_id"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("length(trim(reason)) > 0", name=op.f("ck_difference_reason_reason")),
        _key("difference_reason", "application_id", "application"),
        _key("difference_reason", "given_by_id", "user_account"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_difference_reason")),
    )
    op.create_index(op.f("ix_difference_reason_application_id"), "difference_reason", ["application_id"])


def downgrade() -> None:
    """Put claims and seals back into their old columns; reasons of differences are not known there and go."""
    for table in (*OLD_APPEND_ONLY, *NEW_APPEND_ONLY):
        op.execute(f"drop trigger no_truncate on {table}")
    for table in NEW_APPEND_ONLY:
        op.execute(f"drop trigger append_only on {table}")
    for table, trigger in (
        ("claim", "published"),
        ("test_card", "recorded"),
        ("dyno_session", "recorded"),
        ("claim_sheet", "second_person"),
    ):
        op.execute(f"drop trigger {trigger} on {table}")
    for function in ("hold_published", "hold_card", "hold_session_card", "second_person", "forbid_truncate"):
        op.execute(f"drop function {function}()")
    _old_columns()
    op.execute(CARRY_BACK)
    _old_rules()
    op.drop_constraint(op.f("fk_application_approval_by_id_user_account"), "application", type_="foreignkey")
    op.drop_column("application", "approval_by_id")
    op.drop_column("verdict", "session_ids")
    for column in ("lines", "joined", "description", "typed"):
        op.drop_column("claim", column)
    for table in ("difference_reason", "prediction_seal", "claim_sheet", "claim_act"):
        op.drop_table(table)


def _old_columns() -> None:
    op.add_column("prediction", _moment("sealed_at", True))
    op.add_column("claim", _text("state", default="draft"))
    op.add_column("claim", _text("statement", default=""))
    op.add_column("claim", _text("trade_off", default=""))
    op.add_column("claim", _json("snapshot", True, "all that the sheet shows"))
    for name in ("drafted_by_id", "approved_by_id", "withdrawn_by_id"):
        op.add_column("claim", _person(name, True))
        op.create_foreign_key(op.f(f"fk_claim_{name}_user_account"), "claim", "user_account", [name], ["id"])
    for name in ("drafted_at", "published_at", "withdrawn_at"):
        op.add_column("claim", _moment(name, True))
    op.add_column("claim", _text("withdrawal_reason", default=""))
    version = sa.Column(
        "version", sa.Integer(), nullable=False, server_default="1", comment="counts changes; must match when saving"
    )
    op.add_column("claim", version)


def _old_rules() -> None:
    for column in ("state", "statement", "trade_off", "withdrawal_reason", "version"):
        op.alter_column("claim", column, server_default=None)
    for column in ("drafted_by_id", "drafted_at"):
        op.alter_column("claim", column, nullable=False)
    op.create_check_constraint(
        op.f("ck_claim_state"), "claim", "state in ('draft', 'submitted', 'published', 'withdrawn')"
    )
    op.create_check_constraint(
        op.f("ck_claim_second_person"), "claim", "approved_by_id is null or approved_by_id <> drafted_by_id"
    )
    op.alter_column(
        "claim",
        "evidence_key",
        comment="identifies the evidence it was published on",
        existing_comment="identifies the evidence the facts were chosen on",
    )
    op.alter_column(
        "verdict",
        "evidence_key",
        comment="identifies the pulls and judgements it was made from",
        existing_comment="identifies the evidence it was made from",
    )
