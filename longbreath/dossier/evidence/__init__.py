"""The one evidence: which sessions, pulls, judgements, card, dyno, bands, build sheets and weather count, under one key."""
