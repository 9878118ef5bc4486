"""Open formats in and out: the job file and its published schema."""
