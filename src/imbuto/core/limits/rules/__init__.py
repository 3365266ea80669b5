"""The limits by matter: each rule beside its sentence, and its row in the register."""
