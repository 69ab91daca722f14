"""A sheet keeps the whole case that it was published on (digests of its parts stand in its snapshot); dossiers have counters, and what
was made of their records is kept by them."""

from alembic import op

revision = "case"
down_revision = "first"
branch_labels = None
depends_on = None

STAMPS = """
create table dossier_stamp (
  application_id integer not null,
  number bigint not null,
  id serial not null,
  constraint pk_dossier_stamp primary key (id),
  constraint uq_dossier_stamp_application_id unique (application_id)
);
comment on column dossier_stamp.application_id is '0: all';
"""
KEPT = """
create table kept (
  what varchar not null,
  application_id integer not null,
  stamp varchar not null,
  value jsonb not null,
  id serial not null,
  constraint pk_kept primary key (id),
  constraint uq_kept_what unique (what, application_id),
  constraint fk_kept_application_id_application foreign key (application_id) references application (id) on delete cascade
);
create table kept_weighing (
  digest varchar not null,
  version varchar not null,
  data bytea not null,
  id serial not null,
  constraint pk_kept_weighing primary key (id),
  constraint uq_kept_weighing_digest unique (digest)
);
comment on column kept_weighing.version is 'of the program that weighed';
comment on column kept.stamp is 'of the dossier, with the day and the version that made it';
"""


def upgrade() -> None:
    """Keep the case of a sheet."""
    op.execute('alter table claim_sheet add column "case" jsonb')
    op.execute(
        """comment on column claim_sheet."case" is
           'all that it rests on, as plain data; none of sheets from before it was kept'"""
    )
    op.execute("alter table claim_sheet drop column rests_on")
    op.execute(STAMPS)
    op.execute(KEPT)
    op.execute("create index ix_audit_entry_entity on audit_entry (entity, entity_id)")


def downgrade() -> None:
    """Forget the case, and what can be made anew."""
    op.execute("drop index ix_audit_entry_entity")
    op.execute("drop table kept_weighing")
    op.execute("drop table kept")
    op.execute("drop table dossier_stamp")
    op.execute("alter table claim_sheet add column rests_on jsonb not null default '{}'")
    op.execute('alter table claim_sheet drop column "case"')
