"""History: every write leaves an entry with what changed, before and after, and can be undone."""
