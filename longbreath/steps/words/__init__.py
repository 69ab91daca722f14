"""Words that already exist: selling text held against the evidence. Advice; nothing is published from here."""
