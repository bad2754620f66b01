"""Planning: the plan and its drying map, read only, and the act that starts what was planned."""
