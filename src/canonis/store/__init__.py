"""What is kept in PostgreSQL: models, queries, migrations."""
