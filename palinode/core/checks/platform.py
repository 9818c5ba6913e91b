"""The check of the platform: version, theme, extensions, addresses, permalinks and other settings on both sides."""

from palinode.core import address as addresses
from palinode.core.checks.check import Cell, Check, Column, Reads, Verdict
from palinode.core.checks.kind import Kind
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome, Row, outcome
from palinode.core.checks.thread import Thread
from palinode.core.findings import Finding, columns
from palinode.core.platforms import traits
from palinode.core.platforms.items import Installation
from palinode.core.platforms.traits import About, Trait
from palinode.core.rule import Rule
from palinode.core.weight import Weight

ADDRESS_OLD = Kind(
    "address_old",
    "set to the old address",
    Weight.BLOCKS,
    remedy="Write the new address into the options of the site, or into its configuration, which wins over them. Then "
    "import a new dump of the destination.",
)
SEARCH_SHUT = Kind(
    "search_shut",
    "search engines asked to stay away",
    Weight.BLOCKS,
    remedy="Let search engines in again in the settings of the destination, before the switch at the latest.",
)
PERMALINKS_OTHER = Kind(
    "permalinks_other",
    "other permalinks",
    Weight.MEND,
    remedy="Set the permalinks as at the source, or say in the address rule how addresses change, with redirects for "
    "the old ones.",
)
EXTENSION_OFF = Kind(
    "extension_off",
    "extension off",
    Weight.MEND,
    remedy="Turn the extension on at the destination: it is often turned off when its files are not there. Accept it "
    "if it is not wanted any more.",
)
THEME_OTHER = Kind(
    "theme_other", "another theme", Weight.MEND, remedy="Choose the theme of the source, or accept the new one."
)
ROLE_LOST = Kind(
    "role_lost", "role lost", Weight.MEND, remedy="Whoever had it may do nothing now: bring the role back."
)
SETTING_OTHER = Kind(
    "setting_other",
    "set otherwise",
    Weight.NOTE,
    remedy="Set it as at the source, or accept what was changed on purpose.",
)
VERDICTS = (
    Verdict("lost", "Lost", Thread.CUT, wants=True),
    Verdict("old_host", "Old address", Thread.WAVY, wants=True),
    Verdict("altered", "Altered", Thread.WAVY, wants=True),
    Verdict("unknown", "Not judged", Thread.DOTS),
    Verdict("moved", "As planned", Thread.BENT),
    Verdict("new", "New", Thread.RING),
    Verdict("same", "Same", Thread.STRAIGHT),
)
_LOST, _OLD, _ALTERED, _UNKNOWN, _MOVED, _NEW, _SAME = range(len(VERDICTS))
_KINDS = {
    About.ADDRESS: ADDRESS_OLD,
    About.SEARCH: SEARCH_SHUT,
    About.PERMALINKS: PERMALINKS_OTHER,
    About.EXTENSION: EXTENSION_OFF,
    About.THEME: THEME_OTHER,
    About.ROLE: ROLE_LOST,
}
"""What each kind of trait is told as where it differs; others are settings."""
_LISTED = (About.EXTENSION, About.ROLE, About.TASK)
"""Traits that are there or not."""


def judge(looked: Looked) -> Outcome:
    """Hold what both sides are set to against each other."""
    left, right = _installation(looked.left), _installation(looked.right)
    rows: list[Row] = []
    found: list[Finding] = []
    servers = [side.database.server if side.database else "" for side in (looked.left, looked.right)]
    if all(servers):
        _compare(Trait(About.VERSION, "database server", servers[0]), servers[1], looked.rule, rows, found)
    if left and right and left.platform is not right.platform:
        _compare(Trait(About.VERSION, "platform", left.platform.name), right.platform.name, looked.rule, rows, found)
    elif left and right:
        _installations(left, right, looked.rule, rows, found)
    return outcome(rows, columns(CHECK.kinds, [], found), unseen=_unseen(looked, left, right))


def _installation(side: Side) -> Installation | None:
    """Return the installation whose settings are read: of the dump, if it has one, the one with most items."""
    for one in sorted(side.items or (), key=lambda held: held.kind != "dump"):
        if found := [installation for installation in one.installations if installation.settings]:
            return max(found, key=lambda installation: sum(items.count for items in installation.items))
    return None


def _installations(left: Installation, right: Installation, rule: Rule, rows: list[Row], found: list[Finding]) -> None:
    ours = {(one.about, one.name): one for one in traits.of(left)}
    theirs = {(one.about, one.name): one for one in traits.of(right)}
    # What an export does not say is not compared.
    told = {about for about, _ in theirs} | ({About.EXTENSION, About.TASK, About.ROLE} if right.prefix else set())
    for key, one in ours.items():
        if key in theirs:
            _compare(one, theirs[key].value, rule, rows, found)
        elif one.about in _LISTED and one.about in told:
            _lost(one, rows, found)
    for key, one in theirs.items():
        if key not in ours and one.about in _LISTED:
            rows.append(Row(_NEW, "", one.value, one.name, "only at the destination", order=len(rows)))


def _lost(one: Trait, rows: list[Row], found: list[Finding]) -> None:
    if one.about is About.TASK:
        rows.append(Row(_ALTERED, one.value, "", one.name, "not planned", order=len(rows)))
        kind, said = SETTING_OTHER, f"{one.name} is not planned any more"
    else:
        off = "off" if one.about is About.EXTENSION else "not known"
        rows.append(Row(_LOST, one.value, off, one.name, "", order=len(rows)))
        kind, said = _KINDS[one.about], f"{one.name} is {off}"
    found.append(Finding(kind, one.name, 1, one.value, "", said, row=len(rows) - 1))


def _compare(one: Trait, value: str, rule: Rule, rows: list[Row], found: list[Finding]) -> None:
    """Compare one trait with its value at the destination."""
    verdict, note = _SAME, ""
    if one.about is About.ADDRESS:
        verdict, note = _of_address(one.value, value, rule)
    elif one.value != value:
        verdict = _NEW if one.about is About.SEARCH and value == "let in" else _ALTERED
        verdict = _MOVED if one.about is About.PREFIX else verdict
    if verdict in (_OLD, _ALTERED):
        kind = _KINDS.get(one.about, SETTING_OTHER)
        said = (
            f"{one.name}: {one.value or 'nothing'} became {value or 'nothing'}"
            if verdict == _ALTERED
            else f"{one.name} is still {value}"
        )
        found.append(Finding(kind, one.name, 1, one.value, value, said, row=len(rows)))
    rows.append(Row(verdict, one.value, value, one.name, note, order=len(rows)))


def _of_address(left: str, right: str, rule: Rule) -> tuple[int, str]:
    """Return what an address option is, beside the one that the address rule expects in its place."""
    ours, theirs = addresses.normal(f"{left.rstrip('/')}/"), addresses.normal(f"{right.rstrip('/')}/")
    if ours is None or theirs is None:
        return (_SAME, "") if left == right else (_ALTERED, "")
    expected = rule.expect(ours).address
    final = rule.forms.final_of(theirs) if rule.forms else theirs
    if final == expected:
        note = "its temporary address, to be changed with the switch" if final != theirs else ""
        return (_SAME if expected == ours else _MOVED), note
    if theirs == ours:
        return _OLD, f"{expected.rstrip('/')} is expected"
    return _ALTERED, f"{expected.rstrip('/')} is expected"


def _unseen(looked: Looked, left: Installation | None, right: Installation | None) -> tuple[str, ...]:
    if (left is None) == (right is None):
        return ()
    there, lacks = ("source", "destination") if left else ("destination", "source")
    return (f"settings of the platform, which a dump or an export of the {there} shows, and none of the {lacks}",)


CHECK = Check(
    name="platform",
    version=1,
    title="Platform",
    view="site",
    reads=(Reads.ITEMS, Reads.DATABASE),
    verdicts=VERDICTS,
    kinds=(ADDRESS_OLD, SEARCH_SHUT, PERMALINKS_OTHER, EXTENSION_OFF, THEME_OTHER, ROLE_LOST, SETTING_OTHER),
    columns=(
        Column("what", "What", Cell.LEFT_NOTE),
        Column("source", "At the source", Cell.LEFT),
        Column("destination", "At the destination", Cell.RIGHT),
        Column("verdict", "Verdict", Cell.VERDICT),
        Column("detail", "What differs", Cell.RIGHT_NOTE),
    ),
    judge=judge,
)
