"""Verdicts of the check of content, and the kinds of its findings."""

from palinode.core.checks.check import Verdict
from palinode.core.checks.kind import Kind
from palinode.core.checks.thread import Thread
from palinode.core.weight import Weight

VERDICTS = (
    Verdict("missing", "Missing", Thread.CUT, wants=True),
    Verdict("unreached", "Not at its address", Thread.CUT, wants=True),
    Verdict("different", "Different", Thread.WAVY, wants=True),
    Verdict("unknown", "Not judged", Thread.DOTS),
    Verdict("more", "More", Thread.RING),
    Verdict("same", "Same", Thread.STRAIGHT),
    Verdict("set_aside", "Set aside", Thread.DASHED),
)
MISSING, UNREACHED, DIFFERENT, UNKNOWN, MORE, SAME, SET_ASIDE = range(len(VERDICTS))

ITEMS_MISSING = Kind(
    "items_missing",
    "items missing that visitors see",
    Weight.BLOCKS,
    remedy="Bring them over: import the dump again as a whole, or the items by themselves. Then import a new dump of "
    "the destination.",
)
ITEMS_HIDDEN = Kind(
    "items_hidden",
    "items that visitors no longer see",
    Weight.BLOCKS,
    remedy="Publish them again at the destination, or accept that they were taken back. Then import a new dump.",
)
OTHERS_MISSING = Kind(
    "others_missing",
    "drafts and other hidden items missing",
    Weight.MEND,
    remedy="Nobody sees them from outside, but whoever works on the site misses them: import them by themselves.",
)
ITEMS_SHORTER = Kind(
    "items_shorter",
    "items whose text is shorter",
    Weight.MEND,
    remedy="Open one of them on both sides: its end may be cut off, or a part that an extension wrote is gone.",
)
ITEMS_DIFFERENT = Kind(
    "items_different",
    "items that differ",
    Weight.MEND,
    remedy="Open the row for what differs. Accept what somebody changed on purpose, and mend the rest.",
)
COUNTERS_WRONG = Kind(
    "counters_wrong",
    "counters that contradict their rows",
    Weight.NOTE,
    remedy="The platform counts anew when an item is saved, or by a command of its own.",
)
SITEMAP_SHORTER = Kind(
    "sitemap_shorter",
    "pages missing from the sitemap",
    Weight.MEND,
    remedy="Let the sitemap be written anew at the destination: it is often kept in a cache, or its maker has lost a "
    "setting. Then capture again.",
)
FEEDS_SHORTER = Kind(
    "feeds_shorter",
    "fewer pages in the feeds",
    Weight.NOTE,
    remedy="See how many of the latest a feed is set to show, and whether a cache still holds an older one.",
)
DAYS_CHANGED = Kind(
    "days_changed",
    "days of change lost from the sitemap",
    Weight.NOTE,
    remedy="Search engines ask those pages again whose day is later than their last visit: a whole site with the day "
    "of the move is asked as a whole. See whether the import set the days of its items anew.",
)
NUMBERS_DIFFER = Kind(
    "numbers_differ",
    "other numbers, typed by hand",
    Weight.MEND,
    remedy="Count again on both sides at the same time of day; where the number stays lower, find what is missing, or "
    "accept it.",
)
ROWS_FEWER = Kind(
    "rows_fewer",
    "fewer rows of a chosen table",
    Weight.MEND,
    remedy="See in Database tables whether the table is short, and import it again; or accept that they were deleted.",
)
KINDS = (
    ITEMS_MISSING,
    ITEMS_HIDDEN,
    OTHERS_MISSING,
    ITEMS_SHORTER,
    ITEMS_DIFFERENT,
    COUNTERS_WRONG,
    SITEMAP_SHORTER,
    FEEDS_SHORTER,
    DAYS_CHANGED,
    NUMBERS_DIFFER,
    ROWS_FEWER,
)
