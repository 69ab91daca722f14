"""Programme: what is owed over all applications, on a line of dates; calendars; background work."""
