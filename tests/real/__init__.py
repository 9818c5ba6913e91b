"""Against real software from Debian's packages, each private and on loopback."""
