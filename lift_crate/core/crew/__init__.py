"""Who works on a job and what each may do there."""
