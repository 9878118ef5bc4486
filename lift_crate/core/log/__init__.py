"""What really happened in a job, and what its figures learn from it."""
