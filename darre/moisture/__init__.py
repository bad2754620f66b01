"""Moisture, read only: where is the water now? The rack, storage and a spool's page."""
