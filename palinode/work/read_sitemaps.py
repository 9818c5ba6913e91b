"""Sitemaps read where they are stored. Run in reading processes, without models: see work/readers.py."""

import numpy as np

from palinode.core import address as addresses
from palinode.core.documents import sitemap
from palinode.core.scope import Scope
from palinode.work import record_location
from palinode.work.record_location import At


def modified(at: At, address: str, scope: Scope) -> tuple[np.ndarray, np.ndarray]:
    """Return the pages of a side that a stored sitemap names, and the day of their last modification.

    Identities (int64) and days (int32) as in :class:`palinode.core.checks.looked.KnownAddresses`, of the same shape.
    """
    told = sitemap.read(record_location.body(at)).modified
    found = {addresses.normal(written, address): day for written, day in told.items()}
    names = [scope.reached(name) for name in found if name is not None]
    days = [day for name, day in found.items() if name is not None]
    return addresses.idents(names), np.array(days, np.int32)
