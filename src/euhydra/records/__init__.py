"""The data folder: SQLite through plain SQL, one module a subject."""
