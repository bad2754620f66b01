"""Bad prints and whether it was the water: prints, cases with their evidence, photos, verdicts, practice."""
