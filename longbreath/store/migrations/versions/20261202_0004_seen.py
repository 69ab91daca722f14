"""Pulls are known again by their content, whichever file they come in."""

from alembic import op

revision = "seen"
down_revision = "alike"
branch_labels = None
depends_on = None

TABLES = """
create table pull_trace (
  pull_id integer not null,
  file_id integer not null,
  column_no integer not null,
  by_speed boolean not null,
  marks bigint[] not null,
  rough bytea not null,
  id serial not null,
  constraint pk_pull_trace primary key (id),
  constraint fk_pull_trace_pull_id_pull foreign key (pull_id) references pull (id),
  constraint fk_pull_trace_file_id_raw_file foreign key (file_id) references raw_file (id)
);
comment on column pull_trace.column_no is 'number of the column in its table, from 0';
comment on column pull_trace.by_speed is 'its rows in the order of engine speed';
comment on column pull_trace.rough is 'roughness, a step a byte; empty where it is smooth';
create index ix_pull_trace_pull_id on pull_trace (pull_id);
create index ix_pull_trace_marks on pull_trace using gin (marks);
create table stretch_known (
  file_id integer not null,
  table_no integer not null,
  first integer not null,
  last integer not null,
  pull_id integer not null,
  seen_at timestamp with time zone not null,
  seen_by_id integer not null,
  id serial not null,
  constraint pk_stretch_known primary key (id),
  constraint fk_stretch_known_file_id_raw_file foreign key (file_id) references raw_file (id),
  constraint fk_stretch_known_pull_id_pull foreign key (pull_id) references pull (id),
  constraint fk_stretch_known_seen_by_id_user_account foreign key (seen_by_id) references user_account (id)
);
comment on column stretch_known.first is 'row of the table';
create index ix_stretch_known_file_id on stretch_known (file_id);
create index ix_stretch_known_pull_id on stretch_known (pull_id);
"""


def upgrade() -> None:
    """What came before is looked through by `longbreath init`, which marks every pull that has none."""
    op.execute(TABLES)
    for table in ("pull_trace", "stretch_known"):
        op.execute(
            f"create trigger append_only before update or delete on {table} for each row execute function forbid_change()"
        )
        op.execute(
            f"create trigger no_truncate before truncate on {table} for each statement execute function forbid_truncate()"
        )


def downgrade() -> None:
    """Know pulls by the bytes of their files alone."""
    op.execute("drop table stretch_known")
    op.execute("drop table pull_trace")
