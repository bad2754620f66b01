"""Runs: drying runs with their weighings and events, and what the weighings say."""
