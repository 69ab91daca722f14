"""From rows to cases: every record that bears on a statement, read in one place."""
