"""The rules of the job. Pure: no web, no database, no clock, no global state."""
