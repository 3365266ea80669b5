"""What is kept, in SQLite."""
