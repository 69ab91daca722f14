"""Predictions are curves that count; kept answers, candidates and targets; prices; a part-closed section

Revision ID: 0008
Revises: 0007
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

SPOKEN = postgresql.JSONB(astext_type=sa.Text())

BEFORE_THE_TEST = """
create function prediction_stands_before() returns trigger language plpgsql as $$
begin
  perform 1 from application where id = new.application_id for no key update;
  if not new.after_test and (
    (new.quantity <> 'airflow' and exists (
      select from pull p join dyno_session s on s.id = p.session_id
      where s.application_id = new.application_id and (new.card_id is null or s.card_id = new.card_id)))
    or (new.quantity = 'airflow' and exists (
      select from reading r join trace t on t.id = r.trace_id join bench_session b on b.id = t.session_id
      where b.application_id = new.application_id and t.label = 'B')))
  then raise exception 'a prediction made after the test must say so'; end if;
  return new;
end $$;
create trigger stands_before before insert on prediction for each row execute function prediction_stands_before();

create function seal_at_first_pull() returns trigger language plpgsql as $$
begin
  perform 1 from application a join dyno_session s on s.application_id = a.id where s.id = new.session_id for share of a;
  insert into prediction_seal (prediction_id, card_id, sealed_at)
    select p.id, s.card_id, now() from prediction p join dyno_session s on s.id = new.session_id
    where p.application_id = s.application_id and not p.after_test and p.quantity <> 'airflow'
      and (p.card_id is null or p.card_id = s.card_id)
      and not exists (select from prediction_seal x where x.prediction_id = p.id);
  return new;
end $$;
create trigger seals_predictions after insert on pull for each row execute function seal_at_first_pull();

create function seal_at_first_reading() returns trigger language plpgsql as $$
begin
  perform 1 from application a join bench_session b on b.application_id = a.id join trace t on t.session_id = b.id
    where t.id = new.trace_id and t.label = 'B' for share of a;
  insert into prediction_seal (prediction_id, sealed_at)
    select p.id, now() from prediction p join trace t on t.id = new.trace_id join bench_session b on b.id = t.session_id
    where t.label = 'B' and p.application_id = b.application_id and not p.after_test and p.quantity = 'airflow'
      and not exists (select from prediction_seal x where x.prediction_id = p.id);
  return new;
end $$;
create trigger seals_predictions after insert on reading for each row execute function seal_at_first_reading();
"""
NO_MORE = """
drop trigger seals_predictions on reading;
drop trigger seals_predictions on pull;
drop trigger stands_before on prediction;
drop function seal_at_first_reading();
drop function seal_at_first_pull();
drop function prediction_stands_before();
"""
HELD = """
create trigger append_only before update or delete on kept_answer for each row execute function forbid_change();
create trigger no_truncate before truncate on kept_answer for each statement execute function forbid_truncate();
"""
OF_CARD = """
alter table prediction_seal disable trigger append_only;
update prediction_seal x set card_id = (
  select s.card_id from prediction p join dyno_session s on s.application_id = p.application_id join pull u on u.session_id = s.id
  where p.id = x.prediction_id order by u.id limit 1);
alter table prediction_seal enable trigger append_only;
"""


def _text(name: str, comment: str | None = None, default: str | None = None) -> sa.Column:
    return sa.Column(name, sa.String(), nullable=False, comment=comment, server_default=default)


def _number(name: str, nullable: bool = False, comment: str | None = None) -> sa.Column:
    return sa.Column(name, sa.Integer(), nullable=nullable, comment=comment)


def _json(name: str, comment: str, default: str | None = None) -> sa.Column:
    return sa.Column(name, SPOKEN, nullable=False, comment=comment, server_default=default)


def _version() -> sa.Column:
    return _number("version", comment="counts changes; must match when saving")


def _key(table: str, column: str, other: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f"{other}.id"], name=op.f(f"fk_{table}_{column}_{other}"))


def _table(name: str, *parts: sa.schema.SchemaItem) -> None:
    op.create_table(name, *parts, _number("id"), sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{name}")))


def upgrade() -> None:
    """Make the tables; predictions that were kept before are words alone, their seals belong to the card of the first pull."""
    op.add_column(
        "element",
        sa.Column(
            "open_share", sa.Double(), nullable=True, comment="share of its section that a flap or plate leaves open"
        ),
    )
    op.create_check_constraint(op.f("ck_element_open_share"), "element", "open_share > 0 and open_share <= 1")
    op.add_column(
        "product", sa.Column("price", sa.Double(), nullable=True, comment="retail, in the money of the house")
    )
    op.add_column("product", sa.Column("price_on", sa.Date(), nullable=True, comment="day of the price"))
    op.add_column("product", _text("shelf", "shelf, order, wanted (not owned yet), or not known", ""))
    op.add_column(
        "product",
        sa.Column(
            "version",
            sa.Integer(),
            nullable=False,
            comment="counts changes; must match when saving",
            server_default="1",
        ),
    )
    op.alter_column("product", "shelf", server_default=None)
    op.alter_column("product", "version", server_default=None)
    op.create_check_constraint(op.f("ck_product_shelf"), "product", "shelf in ('', 'shelf', 'order', 'wanted')")
    op.create_check_constraint(op.f("ck_product_price"), "product", "price >= 0")
    _predictions()
    _table(
        "prediction_score",
        _number("prediction_id"),
        _text("evidence_key", "identifies the evidence it was made from"),
        _json("bands", "name, said, found, half_width, reference, chance, outcome; SI"),
        _key("prediction_score", "prediction_id", "prediction"),
        sa.UniqueConstraint("prediction_id", name=op.f("uq_prediction_score_prediction_id")),
    )
    _table(
        "kept_answer",
        _number("application_id"),
        _text("question", "key of the question"),
        _text("asked", "the question in words"),
        _json("inputs", "name → {value: SI or words, rests, where}"),
        _json("figures", "figures with their working"),
        _text("judgement"),
        _text("note"),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        _number("made_by_id"),
        _key("kept_answer", "application_id", "application"),
        _key("kept_answer", "made_by_id", "user_account"),
    )
    op.create_index("ix_kept_answer_application_question", "kept_answer", ["application_id", "question"])
    _table(
        "target",
        _number("application_id"),
        _json("limits", "SI values by name"),
        _text("why", "for whom, and why these"),
        _version(),
        _key("target", "application_id", "application"),
        sa.UniqueConstraint("application_id", name=op.f("uq_target_application_id")),
    )
    _table(
        "candidate_part",
        _number("application_id"),
        _number("position"),
        _text("name", "what it is called where it is no revision of the library"),
        _text("family", "which columns it has"),
        _number("revision_id", True),
        _json("values", "column → {value: SI or words, rests, where}"),
        _text("out_reason", "why it is no candidate any more; empty: it is one"),
        _version(),
        _key("candidate_part", "application_id", "application"),
        _key("candidate_part", "revision_id", "revision"),
    )
    op.create_index(op.f("ix_candidate_part_application_id"), "candidate_part", ["application_id"])
    op.execute(BEFORE_THE_TEST)
    op.execute(HELD)


def _predictions() -> None:
    op.add_column("prediction", _number("card_id", True, "the card that stood when it was made"))
    op.add_column("prediction", _text("quantity", "torque, power, peak_speed, airflow; empty: words alone", ""))
    op.add_column("prediction", _text("source", "words, hand, school or simulation", "words"))
    op.add_column("prediction", _text("source_name", "which school or which simulation", ""))
    op.add_column("prediction", _json("points", "rows of place, least, expected, most; SI", "[]"))
    op.add_column("prediction", _number("supersedes_id", True))
    op.add_column("prediction_seal", _number("card_id", True, "the card whose pull sealed it"))
    for column in ("quantity", "source", "source_name", "points"):
        op.alter_column("prediction", column, server_default=None)
    op.alter_column(
        "prediction",
        "expects",
        comment="what is expected, and what that rests on, in words",
        existing_comment="what is expected, in words",
    )
    for table, column, other in (
        ("prediction", "card_id", "test_card"),
        ("prediction", "supersedes_id", "prediction"),
        ("prediction_seal", "card_id", "test_card"),
    ):
        op.create_foreign_key(op.f(f"fk_{table}_{column}_{other}"), table, other, [column], ["id"])
    op.create_unique_constraint(op.f("uq_prediction_supersedes_id"), "prediction", ["supersedes_id"])
    for name, rule in (
        ("quantity", "quantity in ('', 'torque', 'power', 'peak_speed', 'airflow')"),
        ("source", "source in ('words', 'hand', 'school', 'simulation')"),
        ("curve", "(quantity = '') = (source = 'words')"),
    ):
        op.create_check_constraint(op.f(f"ck_prediction_{name}"), "prediction", rule)
    op.execute(OF_CARD)


def downgrade() -> None:
    """Drop the tables; of predictions their words, inputs and seals stay."""
    op.execute(NO_MORE)
    for table in ("candidate_part", "target", "kept_answer", "prediction_score"):
        op.drop_table(table)
    for name in ("quantity", "source", "curve"):
        op.drop_constraint(op.f(f"ck_prediction_{name}"), "prediction", type_="check")
    for column in ("card_id", "quantity", "source", "source_name", "points", "supersedes_id"):
        op.drop_column("prediction", column)
    op.drop_column("prediction_seal", "card_id")
    op.alter_column("prediction", "expects", comment="what is expected, in words")
    for column in ("price", "price_on", "shelf", "version"):
        op.drop_column("product", column)
    op.drop_column("element", "open_share")
