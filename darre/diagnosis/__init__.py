"""Diagnosis: bad prints and whether it was the water; prints, cases, photos, verdicts, practice."""
