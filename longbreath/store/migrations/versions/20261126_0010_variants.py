"""Variants and cards of any design

Revision ID: 0010
Revises: 0009
"""

import sqlalchemy as sa
from alembic import op

from longbreath.store.migrations.columns import INT, JSONB, MOMENT, TEXT, col, foreign, fresh, make_table, version

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None

STATE = """
create function state_of(said text, pattern text) returns text language sql immutable as $$
  select coalesce(string_agg(trim(p), ', '), '') from regexp_split_to_table(said, ',') p
  where trim(p) <> '' and case when pattern = '' then trim(p) !~* 'cast|finish|port|weld|machin|coat' else p ~* pattern end
$$;

create function give_variants() returns trigger language plpgsql as $$
declare made integer; given record;
begin
  for given in select * from (values ('A', new.stock_revision_id), ('B', new.revision_id)) v(letter, revision) loop
    insert into variant (application_id, letter, name, build_title, control_mode, rounds, version)
      values (new.id, given.letter, '', '', '', 0, 1) returning id into made;
    insert into variant_part (variant_id, revision_id, casting, finish, machining, coating, modified)
      select made, id, state_of(state, 'cast'), state_of(state, 'finish|port|weld'), state_of(state, 'machin'),
        state_of(state, 'coat'), state_of(state, '') from revision where id = given.revision;
  end loop;
  return new;
end $$;
create trigger gives_variants after insert on application for each row execute function give_variants();
"""
GIVEN = """
insert into variant (application_id, letter, name, build_title, control_mode, rounds, version)
  select id, letter, '', '', '', 0, 1 from application, (values ('A'), ('B')) v(letter) order by id, letter;
insert into variant_part (variant_id, revision_id, casting, finish, machining, coating, modified)
  select v.id, r.id, state_of(state, 'cast'), state_of(state, 'finish|port|weld'), state_of(state, 'machin'),
    state_of(state, 'coat'), state_of(state, '')
  from variant v join application a on a.id = v.application_id
  join revision r on r.id = case v.letter when 'A' then a.stock_revision_id else a.revision_id end order by v.id;
"""
CARRIED = """
alter table test_card disable trigger recorded;
update test_card set sets = jsonb_build_array(jsonb_build_array('A', pulls_per_set), jsonb_build_array('B', pulls_per_set),
  jsonb_build_array('A', pulls_per_set));
update test_card c set number = n.number, follows_id = n.before from (
  select id, row_number() over w as number, lag(id) over w as before from test_card
  window w as (partition by application_id order by id)) n where n.id = c.id;
alter table test_card enable trigger recorded;
insert into card_variant (card_id, variant_id, letter, called, levels)
  select c.id, v.id, v.letter, case v.letter when 'A' then c.a_is else c.b_is end, '[]'
  from test_card c join variant v on v.application_id = c.application_id order by c.id, v.letter;
insert into card_pair (card_id, application_id, a, b) select id, application_id, 'A', 'B' from test_card order by id;
"""
RETURNED = """
alter table test_card disable trigger recorded;
update test_card c set a_is = a.called, b_is = b.called from card_pair p, card_variant a, card_variant b
  where p.card_id = c.id and p.application_id = c.application_id and a.card_id = c.id and a.letter = p.a
  and b.card_id = c.id and b.letter = p.b;
alter table test_card enable trigger recorded;
"""
LETTERS = """
create function letter_stands() returns trigger language plpgsql as $$
declare said text := to_jsonb(new) ->> tg_argv[0]; dossier integer;
begin
  if said in ('', 'both') then return new; end if;
  if tg_argv[1] = 'bench' then select application_id into dossier from bench_session where id = new.session_id;
  else dossier := new.application_id; end if;
  if not exists (select from variant where application_id = dossier and letter = said) then
    raise exception 'there is no variant % in dossier %', said, dossier;
  end if;
  return new;
end $$;
create function letter_on_card() returns trigger language plpgsql as $$
begin
  if not exists (select from card_variant v join dyno_session s on s.card_id = v.card_id
      where s.id = new.session_id and v.letter = new.label) then
    raise exception 'there is no variant % on the card of session %', new.label, new.session_id;
  end if;
  return new;
end $$;
create trigger letter_stands before insert on pull for each row execute function letter_on_card();
"""
LETTERED = (
    ("element", "belongs_to", "own"),
    ("face", "belongs_to", "own"),
    ("wheel_sheet", "label", "own"),
    ("build_sheet", "label", "own"),
    ("trace", "label", "bench"),
)
CHECKS = (
    ("element", "belongs_to", "'A', 'B', 'both'"),
    ("face", "belongs_to", "'A', 'B', 'both'"),
    ("wheel_sheet", "label", "'A', 'B', ''"),
    ("build_sheet", "label", "'A', 'B', ''"),
    ("trace", "label", "'A', 'B', ''"),
    ("pull", "label", "'A', 'B'"),
)
HELD = """
create function hold_part_of_card() returns trigger language plpgsql as $$
declare card integer := case when tg_op = 'INSERT' then new.card_id else old.card_id end;
begin
  if exists (select from dyno_session s join pull p on p.session_id = s.id where s.card_id = card) then
    raise exception 'test card % has pulls: it is kept as they were taken under it', card;
  end if;
  return case when tg_op = 'DELETE' then old else new end;
end $$;
create trigger recorded before insert or update or delete on card_variant for each row execute function hold_part_of_card();
create trigger recorded before insert or update or delete on card_pair for each row execute function hold_part_of_card();

create function hold_variant() returns trigger language plpgsql as $$
declare held integer := case when tg_table_name = 'variant' then old.id else (to_jsonb(coalesce(old, new)) ->> 'variant_id')::int end;
begin
  if exists (select from card_variant v join dyno_session s on s.card_id = v.card_id
      join pull p on p.session_id = s.id and p.label = v.letter where v.variant_id = held) then
    raise exception 'variant % was pulled: it is kept as it was; give the change another letter', held;
  end if;
  return case when tg_op = 'DELETE' then old else new end;
end $$;
create trigger recorded before update or delete on variant for each row execute function hold_variant();
create trigger recorded before insert or update or delete on variant_part for each row execute function hold_variant();
"""
SEALS = """
create or replace function prediction_stands_before() returns trigger language plpgsql as $$
begin
  perform 1 from application where id = new.application_id for no key update;
  if not new.after_test and (
    (new.quantity <> 'airflow' and exists (
      select from pull p join dyno_session s on s.id = p.session_id join card_pair c on c.card_id = s.card_id
      where c.application_id = new.application_id and (new.card_id is null or s.card_id = new.card_id)))
    or (new.quantity = 'airflow' and exists (
      select from reading r join trace t on t.id = r.trace_id join bench_session b on b.id = t.session_id
      where b.application_id = new.application_id and t.label = 'B')))
  then raise exception 'a prediction made after the test must say so'; end if;
  return new;
end $$;
create or replace function seal_at_first_pull() returns trigger language plpgsql as $$
begin
  perform 1 from application a join card_pair c on c.application_id = a.id join dyno_session s on s.card_id = c.card_id
    where s.id = new.session_id order by a.id for share of a;
  insert into prediction_seal (prediction_id, card_id, sealed_at)
    select p.id, s.card_id, now() from dyno_session s join card_pair c on c.card_id = s.card_id
    join prediction p on p.application_id = c.application_id
    where s.id = new.session_id and not p.after_test and p.quantity <> 'airflow'
      and (p.card_id is null or p.card_id = s.card_id)
      and not exists (select from prediction_seal x where x.prediction_id = p.id);
  return new;
end $$;
"""

SEALS_BEFORE = """
create or replace function prediction_stands_before() returns trigger language plpgsql as $$
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
create or replace function seal_at_first_pull() returns trigger language plpgsql as $$
begin
  perform 1 from application a join dyno_session s on s.application_id = a.id where s.id = new.session_id for share of a;
  insert into prediction_seal (prediction_id, card_id, sealed_at)
    select p.id, s.card_id, now() from prediction p join dyno_session s on s.id = new.session_id
    where p.application_id = s.application_id and not p.after_test and p.quantity <> 'airflow'
      and (p.card_id is null or p.card_id = s.card_id)
      and not exists (select from prediction_seal x where x.prediction_id = p.id);
  return new;
end $$;
"""


def upgrade() -> None:
    """Make the tables; A and B become variants of their dossiers, and old cards are carried over as A-B-A."""
    _make_variants()
    _widen()
    op.execute(STATE)
    op.execute(GIVEN)
    op.execute(CARRIED)
    for column in ("a_is", "b_is"):
        op.drop_column("test_card", column)
    for table, column, _ in CHECKS:
        op.drop_constraint(op.f(f"ck_{table}_{column}"), table, type_="check")
    op.execute(LETTERS)
    for table, column, how in LETTERED:
        op.execute(
            f"create trigger letter_stands before insert or update of {column} on {table} for each row "
            f"execute function letter_stands('{column}', '{how}')"
        )
    op.execute(
        "create trigger append_only before update or delete on card_tick for each row execute function forbid_change()"
    )
    op.execute(
        "create trigger no_truncate before truncate on card_tick for each statement execute function forbid_truncate()"
    )
    op.execute(HELD)
    op.execute(SEALS)


def _make_variants() -> None:
    make_table(
        "variant",
        col("application_id", INT),
        col("letter", TEXT),
        col("name", TEXT, "how it is called beside its parts"),
        col("build_title", TEXT, "title of its build sheet"),
        col("tune_id", INT, null=True),
        col("control_mode", TEXT, "setting of the boost controller, in words"),
        col("rounds", INT, "tuning rounds it was given"),
        version(),
        sa.CheckConstraint("letter ~ '^[A-Z]{1,2}$'", name=op.f("ck_variant_letter")),
        foreign("variant", "application_id", "application"),
        foreign("variant", "tune_id", "tune_file"),
        sa.UniqueConstraint("application_id", "letter", name=op.f("uq_variant_application_id")),
    )
    op.create_index(op.f("ix_variant_application_id"), "variant", ["application_id"])
    make_table(
        "variant_part",
        col("variant_id", INT),
        col("revision_id", INT),
        col("sample_id", INT, "which piece was fitted", null=True),
        col("casting", TEXT),
        col("finish", TEXT),
        col("machining", TEXT),
        col("coating", TEXT),
        col("modified", TEXT, "epoxy, grinding, spacer, adapter, worn …"),
        foreign("variant_part", "revision_id", "revision"),
        foreign("variant_part", "sample_id", "sample"),
        foreign("variant_part", "variant_id", "variant"),
    )
    op.create_index(op.f("ix_variant_part_variant_id"), "variant_part", ["variant_id"])
    make_table(
        "card_pair",
        col("card_id", INT),
        col("application_id", INT),
        col("a", TEXT, "letter of the stock part"),
        col("b", TEXT, "letter of the product; empty: it is not compared"),
        sa.CheckConstraint("a <> b", name=op.f("ck_card_pair_two")),
        foreign("card_pair", "application_id", "application"),
        foreign("card_pair", "card_id", "test_card"),
        sa.UniqueConstraint("card_id", "application_id", name=op.f("uq_card_pair_card_id")),
    )
    op.create_index(op.f("ix_card_pair_application_id"), "card_pair", ["application_id"])
    op.create_index(op.f("ix_card_pair_card_id"), "card_pair", ["card_id"])
    make_table(
        "card_tick",
        col("card_id", INT),
        col("line", TEXT),
        col("note", TEXT, "what was found"),
        col("taken_at", MOMENT),
        col("taken_by_id", INT),
        foreign("card_tick", "card_id", "test_card"),
        foreign("card_tick", "taken_by_id", "user_account"),
        sa.UniqueConstraint("card_id", "line", name=op.f("uq_card_tick_card_id")),
    )
    op.create_index(op.f("ix_card_tick_card_id"), "card_tick", ["card_id"])
    make_table(
        "card_variant",
        col("card_id", INT),
        col("variant_id", INT),
        col("letter", TEXT),
        col("called", TEXT, "what it was, in words, when the card was written"),
        col("levels", JSONB, "its level of each factor, counted from 0"),
        foreign("card_variant", "card_id", "test_card"),
        foreign("card_variant", "variant_id", "variant"),
        sa.UniqueConstraint("card_id", "letter", name=op.f("uq_card_variant_card_id")),
    )
    op.create_index(op.f("ix_card_variant_card_id"), "card_variant", ["card_id"])


WIDER = (
    ("test_card", col("follows_id", INT, "the card it is the next version of", null=True)),
    ("test_card", col("number", INT, "its version in the dossier, from 1", default="1")),
    ("test_card", col("design", TEXT, default="alternation")),
    ("test_card", col("sets", JSONB, "letter and number of pulls of each set, in order", default="[]")),
    ("test_card", col("factors", JSONB, "name, minutes, levels of each factor", default="[]")),
    ("test_card", col("tune_mode", TEXT, default="")),
    ("test_card", col("control_mode", TEXT, default="")),
    ("test_card", col("limits", JSONB, "where the operator stops, SI or words by name", default="{}")),
    ("test_card", col("window", JSONB, "temperatures [K] at the start of each pull, by name", default="{}")),
    ("test_card", col("times", JSONB, "minutes of a pull, cool-down, swap …; margin [1]", default="{}")),
    ("test_card", col("brings", JSONB, "who, what", default="[]")),
    ("test_card", col("consumables", TEXT, "gaskets and fluids, with torque values to look up", default="")),
    ("test_card", col("checklist", JSONB, "lines to tick before the first pull", default="[]")),
)
KEYS = (("test_card", "follows_id", "test_card"),)
RULES = (
    ("test_card", "design", "design in ('alternation', 'ladder', 'factorial', 'series', 'tuning')"),
    ("test_card", "tune_mode", "tune_mode in ('', 'one tune', 'same mixture', 'out of the box')"),
    ("test_card", "control_mode", "control_mode in ('', 'boost free', 'equal boost', 'equal back pressure')"),
)
COMMENTS = (
    ("build_sheet", "label", "letter of a variant, or nothing", "A, B or neither"),
    ("wheel_sheet", "label", "letter of a variant, or nothing", "A, B or neither"),
    ("element", "belongs_to", "letter of a variant, or both", "A, B or both"),
    ("pull", "label", "letter of the variant, as its card names it", None),
    (
        "test_card",
        "also_changed",
        "what else differs between the variants, or 'nothing'",
        "what else differs between A and B, or 'nothing'",
    ),
)


def _widen() -> None:
    for name, made in WIDER:
        op.add_column(name, fresh(made))
        if made.server_default is not None:
            op.alter_column(name, made.name, server_default=None)
    for table, column, other in KEYS:
        op.create_foreign_key(op.f(f"fk_{table}_{column}_{other}"), table, other, [column], ["id"])
    for table, name, rule in RULES:
        op.create_check_constraint(op.f(f"ck_{table}_{name}"), table, rule)
    for table, column, comment, _ in COMMENTS:
        op.alter_column(table, column, comment=comment)


def downgrade() -> None:
    """Back to A and B in words; letters beyond them cannot go back, and the database says so."""
    for table, _, _ in LETTERED:
        op.execute(f"drop trigger letter_stands on {table}")
    op.execute("drop trigger letter_stands on pull; drop function letter_stands(); drop function letter_on_card()")
    op.execute(
        "drop trigger gives_variants on application; drop function give_variants(); drop function state_of(text, text)"
    )
    for column in ("a_is", "b_is"):
        op.add_column("test_card", col(column, TEXT, default=""))
        op.alter_column("test_card", column, server_default=None)
    op.execute(RETURNED)
    for table, column, said in CHECKS:
        op.create_check_constraint(op.f(f"ck_{table}_{column}"), table, f"{column} in ({said})")
    op.execute(SEALS_BEFORE)
    for table, name, _ in RULES:
        op.drop_constraint(op.f(f"ck_{table}_{name}"), table, type_="check")
    for name, made in WIDER:
        op.drop_column(name, made.name)
    for table, column, _, comment in COMMENTS:
        op.alter_column(table, column, comment=comment)
    for table in reversed(TABLES):
        op.drop_table(table)
    op.execute("drop function hold_part_of_card(); drop function hold_variant()")


TABLES = ("variant", "variant_part", "card_pair", "card_tick", "card_variant")
