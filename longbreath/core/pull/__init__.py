"""A pull as it was logged: channels, where it lies in a file, its curve, rollers, and as it happens."""
