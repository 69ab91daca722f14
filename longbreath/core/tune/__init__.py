"""Rounds of tuning on the dyno, and controller settings with the boost they reached."""
