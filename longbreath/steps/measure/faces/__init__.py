"""Faces: port faces laid over each other, plates between them, and the fit register."""
