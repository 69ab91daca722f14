"""Measure, one room a folder: lifts, bench, curves, ports, path, faces, timing, builds."""
