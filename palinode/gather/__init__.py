"""Talks to the outside: HTTP, DNS, TLS, archives. Every connection passes the guard."""
