"""Verdicts of the check of database tables, and the kinds of its findings."""

from palinode.core.checks.check import Verdict
from palinode.core.checks.kind import Kind
from palinode.core.checks.thread import Thread
from palinode.core.weight import Weight

VERDICTS = (
    Verdict("absent", "Absent", Thread.CUT, wants=True),
    Verdict("short", "Short", Thread.CUT, wants=True),
    Verdict("damaged", "Damaged", Thread.WAVY, wants=True),
    Verdict("different", "Different", Thread.WAVY, wants=True),
    Verdict("more", "More rows", Thread.RING),
    Verdict("new", "New", Thread.RING),
    Verdict("same", "Same", Thread.STRAIGHT),
    Verdict("set_aside", "Set aside", Thread.DASHED),
)
ABSENT, SHORT, DAMAGED, DIFFERENT, MORE, NEW, SAME, SET_ASIDE = range(len(VERDICTS))

IMPORT_STOPPED = Kind(
    "import_stopped",
    "import cut short",
    Weight.BLOCKS,
    remedy="Import the dump again, as a whole: by the command line of the database where an upload is limited in size "
    "or time. Then import a new dump of the destination.",
)
TABLE_ABSENT = Kind(
    "table_absent",
    "table absent",
    Weight.BLOCKS,
    remedy="Import the table by itself from the dump of the source, or say why it is not wanted. Then import a new "
    "dump of the destination.",
)
TABLE_SHORT = Kind(
    "table_short",
    "table short",
    Weight.BLOCKS,
    remedy="Import the table again: rows that were left out are often too large for a limit of the server "
    "(max_allowed_packet). Then import a new dump of the destination.",
)
TEXT_DAMAGED = Kind(
    "text_damaged",
    "damaged text",
    Weight.BLOCKS,
    remedy="The dump was read in another character set than it was written in. Import it again in that of the source: "
    "letters that were lost do not come back by themselves.",
)
PREFIX_MIXED = Kind(
    "prefix_mixed",
    "tables under two prefixes",
    Weight.BLOCKS,
    remedy="Give all tables the prefix that the site's configuration names.",
)
KEYS_OF_PREFIX = Kind(
    "keys_of_prefix",
    "keys of another prefix",
    Weight.BLOCKS,
    remedy="Rename the keys that hold the prefix of the tables, in the settings and with the accounts, or nobody may "
    "do what their role allows.",
)
TYPE_NARROWED = Kind(
    "type_narrowed",
    "column made narrower",
    Weight.MEND,
    remedy="Give the column back its type: longer values were cut off, or will be.",
)
NUMBER_LOST = Kind(
    "number_lost",
    "column that no longer counts up",
    Weight.MEND,
    remedy="Let the column count up by itself again (AUTO_INCREMENT), with its key, or nothing new can be saved.",
)
CHARSET_CHANGED = Kind(
    "charset_changed",
    "another character set",
    Weight.MEND,
    remedy="Convert the table to the character set of the source: some characters cannot be saved in another.",
)
ENGINE_CHANGED = Kind(
    "engine_changed", "another engine", Weight.NOTE, remedy="Accept it, if the new host has no other."
)
COLUMNS_CHANGED = Kind(
    "columns_changed",
    "other columns",
    Weight.MEND,
    remedy="An extension of another version may have changed the table: run the same version on both sides.",
)
KINDS = (
    IMPORT_STOPPED,
    TABLE_ABSENT,
    TABLE_SHORT,
    TEXT_DAMAGED,
    PREFIX_MIXED,
    KEYS_OF_PREFIX,
    TYPE_NARROWED,
    NUMBER_LOST,
    CHARSET_CHANGED,
    COLUMNS_CHANGED,
    ENGINE_CHANGED,
)
