#!/usr/bin/env bash
# Seeds a cluster of its own with 100 times the demo, serves it, and lets fifty people look at it.
set -euo pipefail
cd "$(dirname "$0")/.."
bin/setup run
export LONGBREATH_DATABASE_URL; LONGBREATH_DATABASE_URL="$(bin/cluster start bench)"
export LONGBREATH_OWNER_URL; LONGBREATH_OWNER_URL="$(bin/cluster url bench owner)"
trap 'kill $(jobs -p) 2>/dev/null || true; bin/cluster stop bench' EXIT
.venv/bin/longbreath init
count() { .venv/bin/python -c 'import os; from sqlalchemy import create_engine, text
with create_engine(os.environ["LONGBREATH_DATABASE_URL"]).connect() as c: print(c.execute(text("select count(*) from application")).scalar())'; }
[ "$(count)" != 0 ] || .venv/bin/longbreath seed --times "${1:-100}"
export BENCH_PAGE="http://127.0.0.1:8172" BENCH_APPLICATIONS; BENCH_APPLICATIONS="$(count)"
.venv/bin/longbreath serve --bind 127.0.0.1:8172 &
.venv/bin/longbreath demo --greeting "$BENCH_PAGE" >/dev/null
.venv/bin/python bench/load.py
