"""Judging a pull at once: each check with its reason, where it shows, and what to do now."""
