"""Claims: facts out of the evidence, how they are worded, what may stand beside them, and the gates."""
