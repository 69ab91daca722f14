"""A second person says whether a pull counts, without knowing what it shows."""

from alembic import op

revision = "second_look"
down_revision = "seen"
branch_labels = None
depends_on = None

TABLE = """
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
"""


def upgrade() -> None:
    """Judgements of before have no second look: statements are made of what holds either way."""
    op.execute(TABLE)
    op.execute(
        "create trigger append_only before update or delete on second_look for each row execute function forbid_change()"
    )
    op.execute(
        "create trigger no_truncate before truncate on second_look for each statement execute function forbid_truncate()"
    )


def downgrade() -> None:
    """Let one person's word do."""
    op.execute("drop table second_look")
