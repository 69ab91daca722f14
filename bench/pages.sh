#!/usr/bin/env bash
# Seeds a cluster of its own with 100 times the demo, then measures every page.
set -euo pipefail
cd "$(dirname "$0")/.."
bin/setup run
export LONGBREATH_DATABASE_URL; LONGBREATH_DATABASE_URL="$(bin/cluster start bench)"
export LONGBREATH_OWNER_URL; LONGBREATH_OWNER_URL="$(bin/cluster url bench owner)"
trap 'bin/cluster stop bench' EXIT
.venv/bin/longbreath init
.venv/bin/python - <<'PY' || .venv/bin/longbreath seed --times "${1:-100}"
import os, sys
from sqlalchemy import create_engine, text
with create_engine(os.environ["LONGBREATH_DATABASE_URL"]).connect() as c:
    sys.exit(c.execute(text("select count(*) from application")).scalar() == 0)
PY
.venv/bin/python bench/pages.py
