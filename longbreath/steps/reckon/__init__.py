"""Reckon: what the engine can use; the prediction; and the quick reckoner."""
