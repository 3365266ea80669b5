"""What is printed, one sheet a file; each ends with its kind in the register."""
