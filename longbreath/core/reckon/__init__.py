"""Deciding before metal is cut: forecasts that are scored afterwards, and candidates for a target."""
