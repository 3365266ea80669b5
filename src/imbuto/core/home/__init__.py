"""The house: circuits, loads and the people in it."""
