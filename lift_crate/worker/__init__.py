"""What takes long: tasks on a queue in PostgreSQL, carried out by
processes of their own; their answers are kept in the database.
"""
