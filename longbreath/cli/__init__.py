"""The command line, a module a family of commands: reckon, simulate, data, devices."""
