"""Kinds of statement: what each says, on what it rests, how it is worded and rounded, and what it never says. One module a kind."""
