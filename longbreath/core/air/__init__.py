"""Moist air, burned gas, and the standards that carry power from one air to another."""
