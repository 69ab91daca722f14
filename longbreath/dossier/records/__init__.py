"""Reads of the records by what they are of; none of them writes, and none knows a case."""
