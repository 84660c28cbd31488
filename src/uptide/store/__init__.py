"""What people made: SQLAlchemy models, queries and migrations; rows never leave this room."""
