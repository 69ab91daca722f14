"""The coverage page (home), finding things, and opening a new application."""
