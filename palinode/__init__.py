"""Palinode: a migrated or restored site, held against its source."""

__version__ = "0.1.0"
