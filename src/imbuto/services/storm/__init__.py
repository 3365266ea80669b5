"""The use cases of storm days."""
