"""Checks: each is one way of comparing, declared as one object; the registry has them all.

A new check is a file here that declares a :class:`palinode.core.checks.check.Check`, and a line in registry.py.
"""
