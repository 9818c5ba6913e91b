"""Loads robots.txt of each host of a capture."""

from palinode.core.robots import RobotsFile
from palinode.records.models import Capture


def load(capture: Capture) -> tuple[RobotsFile, ...] | None:
    """Return what each host of a capture answered to the request for its rules; none was asked for them so far."""
    return None
