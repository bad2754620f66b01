"""Places: the room and its air, where each spool is and was, and the desiccant in containers."""
