"""The history: every write leaves a line of what, when, before and after, and can be taken back."""
