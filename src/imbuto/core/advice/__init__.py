"""What gives out first, and what would help."""
