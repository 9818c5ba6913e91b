"""The check of links: what is linked at the destination and does not answer, apart from what was broken before."""
