"""Robots rules read where they are stored. Run in reading processes, without models: see work/readers.py."""

from protego import Protego

from palinode.core import robots
from palinode.work import record_location
from palinode.work.record_location import At


def read(at: At) -> tuple[str, Protego]:
    """Return the text of a stored robots.txt and its rules."""
    return robots.read(record_location.body(at))
