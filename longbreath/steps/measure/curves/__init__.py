"""What captured curves say: comparison, coefficients, words, stacks, fixed parts."""
