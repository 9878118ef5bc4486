"""The day over all cameras: who is where in which build, and what it takes to get from one to the next."""
