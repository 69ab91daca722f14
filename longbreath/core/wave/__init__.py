"""Unsteady gas in the pipes and chambers of an engine: kernels (duct, ends, joints, rooms, march) and their fronts (mesh,
network, openings, engine, assemble, cycle). What it solves, and what it cannot say: longbreath/method/wave.md."""
