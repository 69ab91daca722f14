# Sourced: a cluster of its own with 100 times the demo (or as often as the first argument says), migrated and seeded once.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
bin/setup run
export LONGBREATH_DATABASE_URL; LONGBREATH_DATABASE_URL="$(bin/cluster start bench)"
export LONGBREATH_OWNER_URL; LONGBREATH_OWNER_URL="$(bin/cluster url bench owner)"
trap 'kill $(jobs -p) 2>/dev/null || true; bin/cluster stop bench' EXIT
.venv/bin/longbreath init
applications() {
  .venv/bin/python -c 'import os; from sqlalchemy import create_engine, text
with create_engine(os.environ["LONGBREATH_DATABASE_URL"]).connect() as c: print(c.scalar(text("select count(*) from application")))'
}
[ "$(applications)" != 0 ] || .venv/bin/longbreath seed --times "${1:-100}"
