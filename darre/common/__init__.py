"""What every app shares: refusals, number fields, the page host. Knows none of the records."""
