"""Every write to dryers, scales, runs and weighings, each with its rules and its line of history."""
