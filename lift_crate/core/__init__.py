"""The rules of the job: dataclasses in, findings out. See README.md beside this file."""
