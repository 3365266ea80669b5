"""Tables in and out as CSV."""
