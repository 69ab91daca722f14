"""Who may log in to the demo."""

from __future__ import annotations

from longbreath.demo.people import people

PEOPLE = people()
PASSWORD = PEOPLE[0].password
