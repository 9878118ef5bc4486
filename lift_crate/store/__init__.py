"""PostgreSQL: migrations and queries as plain SQL through psycopg; one transaction per change."""
