"""The Chosen place: proposing a set."""
