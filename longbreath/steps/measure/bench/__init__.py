"""Bench: set-up, desk, live values, sheets in and out."""
