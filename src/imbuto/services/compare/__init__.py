"""The Compare place, and the estimate of one plan."""
