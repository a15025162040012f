"""Keeping projects in MariaDB, through plain SQL."""
