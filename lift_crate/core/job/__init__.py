"""A job: its parts of the day, rigs and people, with chargers and mains."""
