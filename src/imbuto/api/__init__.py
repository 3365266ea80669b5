"""The web interface's server: routes, schemas, error translation."""
