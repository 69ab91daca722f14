"""Timing: the degree wheel, time-area, and the port ladder."""
