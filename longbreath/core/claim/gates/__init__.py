"""Gates of a claim: conditions of the evidence, one table of them, each with what meets or fails it and what would meet it."""
