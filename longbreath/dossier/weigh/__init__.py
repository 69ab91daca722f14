"""Weighing from the records: one pair, the ledger, equal boost and response, several variants, kits, trials, raw numbers."""
