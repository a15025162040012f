"""Setting up a bare machine: packages, database, front end."""
