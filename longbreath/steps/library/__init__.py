"""Vehicles, products, benches and dynos, the log, and the method notes."""
