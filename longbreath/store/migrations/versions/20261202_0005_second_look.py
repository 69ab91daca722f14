"""A second person says whether a pull counts, without knowing what it shows; what was mapped and left was seen; a build sheet that is
corrected after the pulls wants a second person and a file."""

from alembic import op

revision = "second_look"
down_revision = "seen"
branch_labels = None
depends_on = None

TABLES = """
create table second_look (
  judgement_id integer not null,
  valid boolean not null,
  reason varchar not null,
  made_at timestamp with time zone not null,
  made_by_id integer not null,
  id serial not null,
  constraint pk_second_look primary key (id),
  constraint uq_second_look_judgement_id unique (judgement_id),
  constraint ck_second_look_reason check (length(trim(reason)) > 0),
  constraint fk_second_look_judgement_id_pull_judgement foreign key (judgement_id) references pull_judgement (id),
  constraint fk_second_look_made_by_id_user_account foreign key (made_by_id) references user_account (id)
);
comment on column second_look.judgement_id is 'what one person said against the checks';
create table stretch_left (
  file_id integer not null,
  table_no integer not null,
  first integer not null,
  last integer not null,
  kind varchar not null,
  left_at timestamp with time zone not null,
  left_by_id integer not null,
  id serial not null,
  constraint pk_stretch_left primary key (id),
  constraint fk_stretch_left_file_id_raw_file foreign key (file_id) references raw_file (id),
  constraint fk_stretch_left_left_by_id_user_account foreign key (left_by_id) references user_account (id)
);
comment on column stretch_left.first is 'row of the table';
comment on column stretch_left.kind is 'what it is: a full pull, a steady point, idle; of a logger nothing';
create index ix_stretch_left_file_id on stretch_left (file_id);
create table sheet_confirmed (
  build_sheet_id integer not null,
  attachment_id integer not null,
  made_at timestamp with time zone not null,
  made_by_id integer not null,
  id serial not null,
  constraint pk_sheet_confirmed primary key (id),
  constraint uq_sheet_confirmed_build_sheet_id unique (build_sheet_id),
  constraint fk_sheet_confirmed_build_sheet_id_build_sheet foreign key (build_sheet_id) references build_sheet (id),
  constraint fk_sheet_confirmed_attachment_id_attachment foreign key (attachment_id) references attachment (id),
  constraint fk_sheet_confirmed_made_by_id_user_account foreign key (made_by_id) references user_account (id)
);
comment on column sheet_confirmed.attachment_id is 'the photo or note that shows it';
"""


def upgrade() -> None:
    """Judgements of before have no second look: statements are made of what holds either way."""
    op.execute(TABLES)
    for table in ("second_look", "stretch_left", "sheet_confirmed"):
        op.execute(
            f"create trigger append_only before update or delete on {table} for each row execute function forbid_change()"
        )
        op.execute(
            f"create trigger no_truncate before truncate on {table} for each statement execute function forbid_truncate()"
        )


def downgrade() -> None:
    """Let one person's word do, and forget what was left."""
    op.execute("drop table sheet_confirmed")
    op.execute("drop table stretch_left")
    op.execute("drop table second_look")
