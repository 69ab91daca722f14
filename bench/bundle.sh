#!/usr/bin/env bash
# Seeds a cluster of its own with the demo ten times, then measures the bundle of a claim on 60 pulls.
. "$(dirname "$0")/seeded.sh" 10
.venv/bin/python bench/bundle.py
