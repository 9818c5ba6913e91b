"""Live databases: connected to through the outbound guard, read within one transaction that cannot write."""
