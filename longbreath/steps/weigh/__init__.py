"""Weigh: A against B over the whole curve."""
