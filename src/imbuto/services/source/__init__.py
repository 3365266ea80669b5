"""The Source place: equipment, sun, fuel, how large."""
