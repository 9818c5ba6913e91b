"""Computation only: no Django, no sockets, no files opened, no clock read."""
