"""Claims: facts, gates, rounding and words, one module a kind of claim."""
