"""What can be switched, in which order, and practising it."""
