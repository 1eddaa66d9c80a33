"""SQLite through SQLAlchemy: tables, sessions, queries, migrations."""
