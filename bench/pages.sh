#!/usr/bin/env bash
# Seeds a cluster of its own with 100 times the demo, then measures every page.
. "$(dirname "$0")/seeded.sh"
.venv/bin/python bench/pages.py
