"""Pages: which page of the source is which page of the destination, what became of it, what in it differs."""
