"""Readers of documents, and of parts of them, that hold addresses besides the markup of a page.

Each reads text and returns addresses as written; none of them raises for what it cannot read.
"""
