"""Inventory: spools, empty spools, materials with a person's own values, and preferences."""
