"""A seeded pair of sites, and the truth about what changed between them, known as it is made."""
