"""What a plan costs, saves and is worth, and which circuits are worth moving."""
