"""What makes and ends captures: jobs, workers, what is asked and how fast."""
