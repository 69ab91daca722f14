#!/usr/bin/env bash
# Starts a cluster of its own with the demo, the stand-in bench and the web server, then measures the desk in Chromium.
set -euo pipefail
cd "$(dirname "$0")/.."
bin/setup test
export LONGBREATH_DATABASE_URL; LONGBREATH_DATABASE_URL="$(bin/cluster start bench-desk)"
export LONGBREATH_OWNER_URL; LONGBREATH_OWNER_URL="$(bin/cluster url bench-desk owner)"
trap 'kill $(jobs -p) 2>/dev/null || true; bin/cluster stop bench-desk' EXIT
port=7171 web=8171
export BENCH_LINE="socket://127.0.0.1:$port" BENCH_PAGE="http://127.0.0.1:$web"
.venv/bin/longbreath init
.venv/bin/longbreath stand-in bench --port "$port" >/dev/null &
.venv/bin/longbreath demo --device "bench=$BENCH_LINE"
.venv/bin/longbreath gateway &
.venv/bin/longbreath serve --bind "127.0.0.1:$web" &
.venv/bin/longbreath demo --greeting "$BENCH_PAGE" >/dev/null
.venv/bin/python bench/desk.py
