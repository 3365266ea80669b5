"""What is planned: an outage, a plan, how it is joined, and what it costs."""
