"""Tests of the core. Property tests draw the same examples at every run and have no clock."""

from hypothesis import settings

settings.register_profile("repeatable", derandomize=True, deadline=None, database=None, max_examples=60)
settings.load_profile("repeatable")
