"""A variant says which other one it is like; the first two of a dossier are written by the program, no longer by the database."""

from alembic import op

revision = "alike"
down_revision = "case"
branch_labels = None
depends_on = None

GIVES = """
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
end
$$;
create trigger gives_variants after insert on application for each row execute function give_variants();
"""


def upgrade() -> None:
    """What was written before stays as it was: every variant of it is written out whole."""
    op.execute("alter table variant add column base varchar not null default ''")
    op.execute("alter table variant alter column base drop default")
    op.execute("comment on column variant.base is 'letter of the variant it is like but for what it changes'")
    op.execute("drop trigger gives_variants on application")
    op.execute("drop function give_variants()")
    op.execute("drop function state_of(text, text)")


def downgrade() -> None:
    """The database gives a dossier its first two variants again."""
    op.execute("alter table variant drop column base")
    op.execute(GIVES)
