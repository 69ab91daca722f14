"""Pulls compared: how they scatter, A against B, bands of use, what a number of pulls can prove."""
