"""Verdicts of the check of leftovers, and the kinds of its findings."""

from palinode.core.checks.check import Verdict
from palinode.core.checks.kind import Kind
from palinode.core.checks.thread import Thread
from palinode.core.weight import Weight

VERDICTS = (
    Verdict("damaged", "Damaged", Thread.CUT, wants=True),
    Verdict("broken", "Broken now", Thread.CUT, wants=True),
    Verdict("loads", "Loads from the old host", Thread.WAVY, wants=True),
    Verdict("works", "Still works", Thread.WAVY, wants=True),
    Verdict("named", "Named", Thread.WAVY, wants=True),
    Verdict("stays", "Must stay", Thread.STRAIGHT),
    Verdict("listed", "Listed", Thread.DOTS),
)
DAMAGED, BROKEN, LOADS, WORKS, NAMED, STAYS, LISTED = range(len(VERDICTS))

_REPLACE = "Replace the old address where it stands: in the text, the option, the theme. Then capture again."
LEADS_BACK = Kind(
    "leftover_leads_back",
    "leads back to the old host",
    Weight.BLOCKS,
    remedy="Set the address of the site, and of its log-in, to the new name: visitors are sent to the old host.",
    seen_on=("answer", "answers"),
)
SENT = Kind(
    "leftover_sent",
    "sends to the old host",
    Weight.BLOCKS,
    remedy="Give the form its new address: what visitors type is sent to a host that will be gone.",
    seen_on=("page", "pages"),
)
LOADED = Kind(
    "leftover_loaded",
    "loads from the old host",
    Weight.MEND,
    remedy="Replace the old address where it stands: what is loaded from it vanishes with the old host.",
    seen_on=("page", "pages"),
)
INSECURE = Kind(
    "leftover_insecure",
    "http on an https page",
    Weight.MEND,
    remedy="Write https in its place: browsers do not load it, or say that the page is not secure.",
    seen_on=("page", "pages"),
)
LINKED = Kind("leftover_linked", "links to the old host", Weight.MEND, remedy=_REPLACE, seen_on=("page", "pages"))
SAID = Kind(
    "leftover_said",
    "old address told to machines",
    Weight.MEND,
    remedy="Search engines and feed readers go by it: set the address of the site, and mend what stands in the theme.",
    seen_on=("answer", "answers"),
)
NAMED_ONLY = Kind("leftover_named", "old name in text", Weight.NOTE, remedy=_REPLACE, seen_on=("page", "pages"))
MAIL = Kind(
    "leftover_mail",
    "mail address of the old name",
    Weight.NOTE,
    remedy="See whether the mailbox is there under the new name, and whether the old one is still read.",
    seen_on=("page", "pages"),
)
SERVER = Kind(
    "leftover_server",
    "path or number of the old server",
    Weight.NOTE,
    remedy="It says where the site stood: look for it in the configuration, where it may break what is not seen.",
    seen_on=("page", "pages"),
)
VALUES_DAMAGED = Kind(
    "values_damaged",
    "serialized values damaged",
    Weight.BLOCKS,
    remedy="An address was replaced without counting again: PHP reads these values as nothing. Import the tables anew, "
    "and replace with a tool that knows serialized values.",
    seen_on=("value", "values"),
)
STORED = Kind("leftover_stored", "old address in the database", Weight.MEND, remedy=_REPLACE, seen_on=("cell", "cells"))
NAME_BELOW = Kind(
    "leftover_below",
    "name below the old one",
    Weight.NOTE,
    remedy="It is a host of its own, perhaps with files, mail or a service: see whether it stays before the domain is "
    "given up. Name it in Options if it is old as well.",
    seen_on=("page", "pages"),
)
KINDS = (VALUES_DAMAGED, STORED, LEADS_BACK, SENT, LOADED, INSECURE, LINKED, SAID, NAMED_ONLY, MAIL, NAME_BELOW, SERVER)
