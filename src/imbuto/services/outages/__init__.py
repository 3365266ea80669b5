"""Getting ready, the outage now, switching steps, tests and the logbook."""
