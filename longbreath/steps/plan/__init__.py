"""Plan: the test card."""
