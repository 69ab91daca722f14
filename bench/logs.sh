#!/usr/bin/env bash
# Logs: reading 50 MB beside Arrow's bare read, one pull from upload to verdict, a session with 60 pulls of 12 channels.
. "$(dirname "$0")/seeded.sh" 1
.venv/bin/python bench/logs.py
