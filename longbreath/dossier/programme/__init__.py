"""What is owed over all applications, by whom and when; the line of dates it makes; calendars of it."""
