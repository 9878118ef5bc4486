"""Where the work can hurt somebody: lines by position, and the day of every person. Local rules decide."""
