"""Weighing beyond one pair: ledger, equal boost, response, several variants, kits, trials of fuel and temperature."""
