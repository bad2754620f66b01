"""Trials: lots of coils and sponges, their weighings, what they tell, and taking that over."""
