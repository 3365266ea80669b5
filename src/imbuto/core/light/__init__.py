"""Light: where the sun stands, what clouds leave of it, and what an array makes of it."""
