"""Selling text held against the evidence: sentences, what they say, and how that stands. Advice: nothing of it is published from
here."""
