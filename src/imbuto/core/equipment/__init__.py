"""What can be bought, and the wires between."""
