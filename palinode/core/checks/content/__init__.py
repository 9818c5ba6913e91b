"""The check of content: what a site's database, exports and sitemaps count, and which item is missing."""
