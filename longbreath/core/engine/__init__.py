"""What the engine asks of its path: air demand, tuned lengths, headroom, what is assumed of it."""
