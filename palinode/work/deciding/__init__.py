"""What follows from decisions of people."""
