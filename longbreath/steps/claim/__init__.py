"""Claim: the statement, its gates, approval by a second person, the public sheet, withdrawal."""
