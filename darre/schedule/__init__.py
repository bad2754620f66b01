"""Schedule: which spools are wanted dry by when, who is at home, and what goes into which dryer when."""
