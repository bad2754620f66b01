"""Every write to the workshop, each with its rules and its line of history."""
