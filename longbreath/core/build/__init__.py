"""Build sheets and what differs between two."""
