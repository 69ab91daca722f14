"""The command line, one module a family of commands."""
