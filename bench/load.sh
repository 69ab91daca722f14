#!/usr/bin/env bash
# Seeds a cluster of its own with 100 times the demo, serves it, and lets fifty people look at it.
. "$(dirname "$0")/seeded.sh"
.venv/bin/longbreath keep
export BENCH_PAGE="http://127.0.0.1:8172"
.venv/bin/longbreath serve --bind 127.0.0.1:8172 &
.venv/bin/longbreath demo --greeting "$BENCH_PAGE" >/dev/null
.venv/bin/python bench/load.py
