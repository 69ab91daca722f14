"""The dyno: channels, pulls and their checks, A against B, bands of use, planning."""
