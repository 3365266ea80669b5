"""Limits of wires, switches and what joins them: each rule beside its sentence, and its row in the register."""
