"""Readers and writers of open formats. No database, no web."""
