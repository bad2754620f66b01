"""Dryers, scales, drying runs and the weighings that judge them."""
