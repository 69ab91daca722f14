"""Dyno sessions of a dossier: files as received, pulls, judgements."""
