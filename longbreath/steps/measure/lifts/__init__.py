"""Measure: what the newest bench session says of A and B, lift by lift."""
