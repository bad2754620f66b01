"""Equipment: dryers with their calibration, and scales."""
