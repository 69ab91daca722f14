"""Pull: dyno sessions, files as received, pulls judged at once."""
