"""The rules of the job: pure functions, SI inside, no web, no database, no clock."""
