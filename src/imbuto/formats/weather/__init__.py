"""Weather that comes as files: hourly years, and alerts."""
