"""The workshop: its room and air, spools with their bodies, and where each spool stood."""
