"""WARC 1.1 (ISO 28500): records written as bytes, segments read back."""
