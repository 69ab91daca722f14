"""Measure: bench sessions with traces and readings, and the elements of the path."""
