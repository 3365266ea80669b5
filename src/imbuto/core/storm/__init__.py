"""The days that matter: what is switched, in which order, by whom."""
