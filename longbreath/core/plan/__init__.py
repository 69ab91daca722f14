"""Plan: designs of a test and their order, factorials, timetables of a day, the programme of a shop."""
