"""Log-in, people, and what a viewer chooses for themselves."""
