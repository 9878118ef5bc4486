"""Changes tried on a build before anybody makes them: what can go here, where can it go, remedies,
feeds, what would level it.
"""
