"""What the two sites of the demo say. All of it is made up, and written for this."""
