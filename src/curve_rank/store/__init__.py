"""SQLite through SQLAlchemy: tables, queries, migrations, demo data. Holds no rules."""
