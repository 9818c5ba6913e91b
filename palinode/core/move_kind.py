"""What kind of move it is, read from the two addresses."""

from palinode.core import address as addresses

SENTENCES = {
    "host": "moves to a new host, under the same name",
    "name": "moves to a new host, under a new name",
    "restore": "is restored under the same name",
    "folder": "moves from one folder to another",
    "scheme": "moves from plain HTTP to HTTPS",
}


def read(source: str, destination: str, connects: bool) -> str:
    """Return the kind of a move between two base addresses.

    ``connects``: the destination is reached by a connect-to line, so another host answers there.
    """
    old, new = addresses.split(source), addresses.split(destination)
    if addresses.bare_host(old.host) != addresses.bare_host(new.host):
        return "name"
    if old.path.rstrip("/") != new.path.rstrip("/"):
        return "folder"
    if old.scheme != new.scheme and not connects:
        return "scheme"
    return "host" if connects else "restore"
