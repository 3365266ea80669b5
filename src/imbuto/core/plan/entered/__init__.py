"""What people write on a plan: costs, own numbers, other uses, permits and tasks."""
