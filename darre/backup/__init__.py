"""Backups: one file with the database, the photos and what they are; made, looked at, kept by a rule, put back."""
