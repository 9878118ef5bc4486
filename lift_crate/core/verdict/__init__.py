"""One verdict over a build: everything that stands against it, and what could not be judged."""
