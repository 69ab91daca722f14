"""The invented scenario, built through the same operations that the pages use."""
