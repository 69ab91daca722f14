#!/usr/bin/env bash
# Starts a cluster of its own with the demo and the stand-in bench, then measures the desk in Chromium.
set -euo pipefail
cd "$(dirname "$0")/.."
bin/setup test
export LONGBREATH_DATABASE_URL; LONGBREATH_DATABASE_URL="$(bin/cluster start bench-desk)"
trap 'bin/cluster stop bench-desk' EXIT
.venv/bin/longbreath init
.venv/bin/python bench/desk.py
