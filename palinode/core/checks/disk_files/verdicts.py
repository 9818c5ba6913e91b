"""Verdicts of the check of files on disk, and the kinds of its findings."""

from palinode.core.checks.check import Verdict
from palinode.core.checks.kind import Kind
from palinode.core.checks.thread import Thread
from palinode.core.weight import Weight

VERDICTS = (
    Verdict("missing", "Missing", Thread.CUT, wants=True),
    Verdict("named", "Named, not there", Thread.CUT, wants=True),
    Verdict("empty", "Empty", Thread.CUT, wants=True),
    Verdict("different", "Different", Thread.WAVY, wants=True),
    Verdict("letters", "Other letters", Thread.WAVY, wants=True),
    Verdict("moved", "Moved", Thread.BENT, wants=True),
    Verdict("more", "More", Thread.RING),
    Verdict("same", "Same", Thread.STRAIGHT),
    Verdict("set_aside", "Set aside", Thread.DASHED),
)
MISSING, NAMED, EMPTY, DIFFERENT, LETTERS, MOVED, MORE, SAME, SET_ASIDE = range(len(VERDICTS))

DISK_MISSING = Kind(
    "disk_missing",
    "files missing on disk",
    Weight.MEND,
    remedy="Copy the folder again: a limit of size or time, or rights, often leaves some out. Then import a new list.",
)
DISK_NAMED = Kind(
    "disk_named",
    "files that the database names and nobody has",
    Weight.MEND,
    remedy="Copy them from the source or its backup; where no one has them any more, delete the items that name them.",
)
DISK_EMPTY = Kind(
    "disk_empty",
    "files without a byte",
    Weight.BLOCKS,
    remedy="The copy broke off, or the disk was full: copy them again. Then import a new list.",
)
DISK_DIFFERENT = Kind(
    "disk_different",
    "files with other content",
    Weight.MEND,
    remedy="Copy them again, unless somebody changed them on purpose: then accept it.",
)
DISK_LETTERS = Kind(
    "disk_letters",
    "files in other capitals",
    Weight.MEND,
    remedy="Give them the names that they had: most servers tell capitals from small letters.",
)
DISK_MOVED = Kind(
    "disk_moved",
    "files in another folder",
    Weight.MEND,
    remedy="Move the folder back to where it was. Where it was moved on purpose, redirect what is asked for there.",
)
KINDS = (DISK_EMPTY, DISK_MISSING, DISK_NAMED, DISK_MOVED, DISK_DIFFERENT, DISK_LETTERS)
