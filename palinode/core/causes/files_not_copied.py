"""Documents are lost because their files are not on the destination's disk: a folder was not copied."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.disk_files.verdicts import DISK_MISSING, DISK_NAMED
from palinode.core.checks.pages import kinds
from palinode.core.weight import Weight
from palinode.core.wording import number


def files_not_copied(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for files that are missing on disk and whose addresses are lost for that reason."""
    disk = ground.outcomes.get("disk")
    if disk is None:
        return
    rows = np.zeros(len(ground.ledger.fate), bool)
    rows[disk.gives["missing"]] = True
    pages = ground.takes(free, rows, kinds.LOST, kinds.STOOD_IN)
    if not pages.any():
        return
    missing = ground.shared(free, DISK_MISSING, DISK_NAMED)
    lost = int(ground.under(pages).sum())
    folders = [one.locus for one in missing.values() if one.kind == DISK_MISSING]
    others = f" and {number(len(folders) - 1, 'other folder')}" if len(folders) > 1 else ""
    yield Cause(
        "files_not_copied",
        Weight.BLOCKS,
        f"{number(lost, 'document is', 'documents are')} lost: their files were not copied",
        f"Missing on disk: {folders[0] if folders else 'files'}{others}.",
        DISK_MISSING.remedy,
        pages | ground.at(missing),
        lost,
        {"check": "disk"},
        instead="If a later list of files has them, the list is older than the pages.",
    )
