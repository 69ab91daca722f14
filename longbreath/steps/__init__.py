"""One folder a step, each with the same file names. A step never imports another."""
