#!/usr/bin/env bash
# Starts a cluster of its own with the demo, the stand-in cell, the gateway and the web server, then measures the cell in Chromium.
set -euo pipefail
cd "$(dirname "$0")/.."
bin/setup test
export LONGBREATH_DATABASE_URL; LONGBREATH_DATABASE_URL="$(bin/cluster start bench-cell)"
export LONGBREATH_OWNER_URL; LONGBREATH_OWNER_URL="$(bin/cluster url bench-cell owner)"
trap 'kill $(jobs -p) 2>/dev/null || true; bin/cluster stop bench-cell' EXIT
dyno=7271 logger=7272 weather=7273 web=8271
export BENCH_LOGGER="127.0.0.1:$logger" BENCH_DYNO="socket://127.0.0.1:$dyno" BENCH_PAGE="http://127.0.0.1:$web"
.venv/bin/longbreath init
.venv/bin/longbreath stand-in dyno --port "$dyno" --logger-port "$logger" --weather-port "$weather" >/dev/null &
.venv/bin/longbreath demo --device "dyno=$BENCH_DYNO" --device "logger=socket://$BENCH_LOGGER" --device "weather=socket://127.0.0.1:$weather"
.venv/bin/longbreath gateway &
.venv/bin/longbreath serve --bind "127.0.0.1:$web" &
.venv/bin/longbreath demo --greeting "$BENCH_PAGE" >/dev/null
.venv/bin/python bench/cell.py
