"""The flow bench: meters, reduction of readings, repeats, coefficients, stacks, velocity maps, porting."""
