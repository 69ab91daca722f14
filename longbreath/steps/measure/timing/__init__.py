"""Timing: degree-wheel sheets, their checks, time-area, and the port ladder."""
