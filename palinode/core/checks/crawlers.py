"""Product tokens of crawlers of search engines, as the groups of robots.txt name them (RFC 9309 section 2.2.1)."""

ANY = "*"
"""A crawler that no group names."""
TOKENS = ("googlebot", "bingbot", "duckduckbot", "applebot", "yandex", "baiduspider")
