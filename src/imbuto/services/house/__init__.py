"""The House place: measuring, importing, instruments, the whole house."""
