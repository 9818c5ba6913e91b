"""Room on the disks that hold the evidence and the database; what is kept free of it is a setting."""

import shutil
from pathlib import Path

from django.conf import settings

_MEGABYTE = 1_000_000


class DiskFull(Exception):
    """Less than the reserve is left; the message is for a person."""


def free() -> int:
    """Return the bytes that are left on the fuller of the disks."""
    return min(shutil.disk_usage(_existing(folder)).free for folder in _watched())


def shortage() -> str:
    """Return a sentence if less than the reserve is left, with what to do; empty if there is room."""
    left = free()
    if left >= settings.PALINODE_DISK_RESERVE:
        return ""
    return f"The disk is nearly full: {left // _MEGABYTE:,} MB are left. Make room, then go on."


def mind() -> None:
    """Raise DiskFull if less than the reserve is left."""
    if said := shortage():
        raise DiskFull(said)


def _watched() -> list[Path]:
    """Return the folder of the evidence, and that of the database if it lies on this machine."""
    evidence = settings.STORAGES["evidence"]["OPTIONS"]["location"]
    return [Path(one) for one in (evidence, settings.PALINODE_DATABASE_FOLDER) if one]


def _existing(path: Path) -> Path:
    while not path.exists():
        path = path.parent
    return path
