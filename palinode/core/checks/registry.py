"""All checks, in the order in which they are looked at: each may read what those before it gave."""

from palinode.core.checks.answers import CHECK as ANSWERS
from palinode.core.checks.check import Check
from palinode.core.checks.content.check import CHECK as CONTENT
from palinode.core.checks.disk_files.check import CHECK as DISK
from palinode.core.checks.files import CHECK as FILES
from palinode.core.checks.kind import Kind
from palinode.core.checks.leftovers.check import CHECK as LEFTOVERS
from palinode.core.checks.links.check import CHECK as LINKS
from palinode.core.checks.pages.check import CHECK as PAGES
from palinode.core.checks.permalinks.check import CHECK as PERMALINKS
from palinode.core.checks.platform import CHECK as PLATFORM
from palinode.core.checks.policies import CHECK as POLICIES
from palinode.core.checks.robots import CHECK as ROBOTS
from palinode.core.checks.tables.check import CHECK as TABLES

CHECKS: tuple[Check, ...] = (
    PAGES,
    CONTENT,
    TABLES,
    FILES,
    DISK,
    LEFTOVERS,
    LINKS,
    PERMALINKS,
    POLICIES,
    ROBOTS,
    PLATFORM,
    ANSWERS,
)

BY_NAME: dict[str, Check] = {check.name: check for check in CHECKS}
KINDS: dict[str, Kind] = {kind.word: kind for check in CHECKS for kind in check.kinds}
"""Word to kind, of all checks."""
VIEWS: dict[str, tuple[Check, ...]] = {
    view: tuple(check for check in CHECKS if check.view == view) for view in dict.fromkeys(one.view for one in CHECKS)
}
