"""What is printed or given out as a table."""
