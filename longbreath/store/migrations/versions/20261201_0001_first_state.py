"""The first state: tables, what PostgreSQL itself holds, and the job queue in a schema of its own.

Its SQL stands beside it in `first_state/`. What follows is a migration of its own each; none is ever written anew.
"""

from importlib.resources import files
from pathlib import Path

from alembic import op

revision = "first"
down_revision = None
branch_labels = None
depends_on = None

SQL = Path(__file__).parents[1] / "first_state"
APPEND_ONLY = (
    "attachment",
    "attachment_mark",
    "audit_entry",
    "bench_sheet",
    "blob",
    "blob_part",
    "build_sheet",
    "calibration",
    "card_tick",
    "certificate",
    "channel",
    "claim_act",
    "claim_bundle",
    "claim_rules",
    "claim_sheet",
    "covered_vehicle",
    "difference_reason",
    "dyno_scatter",
    "engine_stay",
    "face_lay",
    "fact_comment",
    "fit_spot",
    "health_entry",
    "kept_answer",
    "kit_sheet",
    "porting_bout",
    "practice_round",
    "prediction",
    "prediction_seal",
    "pull",
    "pull_condition",
    "pull_judgement",
    "pull_reading",
    "raw_file",
    "reading",
    "reading_mark",
    "selling_text",
    "session_closing",
    "sheet_note",
    "signing_key",
    "size_reading",
    "traverse_point",
    "trial",
    "tuning_round",
    "typed_pull",
    "use_weights",
    "wheel_sheet",
)
"""Evidence: rows are added, never changed, removed or truncated."""
FIND_OWN = """
do $$ declare said text; begin
  for said in select format('alter function %s set search_path = jobs, public', oid::regprocedure) from pg_proc
    where pronamespace = 'jobs'::regnamespace loop execute said; end loop;
end $$;
"""
EMPTY = """
drop schema jobs cascade;
do $$ declare said text; begin
  for said in select format('drop table %I cascade', tablename) from pg_tables
    where schemaname = 'public' and tablename <> 'alembic_version' loop execute said; end loop;
  for said in select format('drop function %s cascade', oid::regprocedure) from pg_proc
    where pronamespace = 'public'::regnamespace loop execute said; end loop;
end $$;
"""


def upgrade() -> None:
    """Make everything."""
    connection = op.get_bind().connection.driver_connection
    for name in ("tables.sql", "held.sql"):
        connection.execute((SQL / name).read_text())
    op.execute("alter table blob_part alter column data set storage external")  # it is packed already
    for table in APPEND_ONLY:
        op.execute(
            f"create trigger append_only before update or delete on {table} for each row execute function forbid_change()"
        )
        op.execute(
            f"create trigger no_truncate before truncate on {table} for each statement execute function forbid_truncate()"
        )
    op.execute("create schema jobs")
    op.execute("set local search_path to jobs, public")
    connection.execute(files("procrastinate").joinpath("sql/schema.sql").read_text())
    op.execute("set local search_path to public")
    op.execute(FIND_OWN)


def downgrade() -> None:
    """Take everything away."""
    op.execute(EMPTY)
