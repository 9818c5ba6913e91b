"""What makes comparisons, and shows them."""
