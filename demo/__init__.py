"""The demo's own world: simulated hosts on loopback, with faults that can be set and cleared."""
