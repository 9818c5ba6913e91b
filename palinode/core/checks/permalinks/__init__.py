"""The check of permalinks: the patterns of both sides' addresses, and what crossed from one to another."""
