"""Ports by hand: velocity maps with a pitot, and the porting log."""
