"""Exports of content platforms, read as they stream by."""
