"""Units joined into a build, where everything then is and weighs, the edits a person can make,
and how a unit is found.
"""
