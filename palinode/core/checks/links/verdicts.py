"""Verdicts of the check of links, and the kinds of its findings."""

from palinode.core.checks.check import Verdict
from palinode.core.checks.kind import Kind
from palinode.core.checks.thread import Thread
from palinode.core.weight import Weight

VERDICTS = (
    Verdict("broken", "Newly broken", Thread.CUT, wants=True),
    Verdict("elsewhere", "Another page", Thread.WAVY, wants=True),
    Verdict("unlinked", "Not linked any more", Thread.WAVY),
    Verdict("old_host", "Only by the old host", Thread.WAVY, wants=True),
    Verdict("redirected", "Redirected", Thread.BENT),
    Verdict("deeper", "Deeper", Thread.BENT),
    Verdict("before", "Broken before", Thread.DOTS),
    Verdict("unknown", "Not judged", Thread.DOTS),
    Verdict("mended", "Mended", Thread.RING),
    Verdict("answers", "Answers", Thread.STRAIGHT),
)
BROKEN, ELSEWHERE, UNLINKED, OLD_HOST, REDIRECTED, DEEPER, BEFORE, UNKNOWN, MENDED, ANSWERS = range(len(VERDICTS))

LINK_BROKEN = Kind(
    "link_broken",
    "broken link",
    Weight.MEND,
    remedy="Mend the link where it stands, or give its target a redirect. Where it stands in the template one change "
    "mends all pages.",
    seen_on=("page", "pages"),
)
LINK_ELSEWHERE = Kind(
    "link_elsewhere",
    "link to another page",
    Weight.MEND,
    remedy="Let the redirect lead to the page that stands for the old one, or mend the link.",
    seen_on=("page", "pages"),
)
LINK_HOPS = Kind(
    "link_hops",
    "link that takes more redirects than before",
    Weight.NOTE,
    remedy="Write the last address into the link: each redirect on the way costs a visitor time.",
    seen_on=("page", "pages"),
)
ANCHOR_GONE = Kind(
    "link_anchor_gone",
    "link to an anchor that is gone",
    Weight.NOTE,
    remedy="Give the heading, or what stands there, its name (id) again, or mend the link: it leads to the top now.",
    seen_on=("page", "pages"),
)
KINDS = (LINK_BROKEN, LINK_ELSEWHERE, LINK_HOPS, ANCHOR_GONE)
