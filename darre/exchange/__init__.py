"""All records in open formats: CSV tables with a described schema in JSON, and the photos, as one archive; and back."""
