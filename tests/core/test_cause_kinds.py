"""Which cause takes a finding: what is most certain, and explains most; what else it could be, and who can mend it."""

import unittest
from pathlib import Path

from palinode.core import causes
from palinode.core.causes import cause_kind
from palinode.core.causes.cause_kind import Certainty, Who
from palinode.core.checks import registry
from palinode.core.recognition.page_kind import PageKind
from tests.core.build import causes_of, ground, html, ledger

YEARS = {
    f"/journal/{year}/{n}": html(f"{year} {n}", f"entry {n} of {year}") for year in range(2015, 2020) for n in range(4)
}
SITE = {"/": html("Home")} | YEARS | {f"/shop/{n}": html(f"Sack {n}") for n in range(12)}


def without(*parts):
    return {path: (404, "") if any(part in path for part in parts) else given for path, given in SITE.items()}


class TakingTest(unittest.TestCase):
    def kinds(self, right):
        return [(one.kind, one.number) for one in causes_of(ledger(SITE, right))]

    def test_what_explains_most_takes_the_findings(self):
        # Four of the five years are most of the section, and all years after one: both would explain the same.
        found = causes_of(ledger(SITE, without("/2016/", "/2017/", "/2018/", "/2019/")))
        self.assertEqual([(one.kind, one.number) for one in found], [("years_missing", 16)])
        self.assertIn("that would explain 16 of these 16 findings as well", found[0].instead)
        self.assertIn("If its menu is there", found[0].instead, "and what tells the two apart")

    def test_what_is_shown_goes_before_what_is_likely(self):
        right = {path: (302, "/") if path.startswith("/journal/2015") else given for path, given in SITE.items()}
        self.assertEqual(self.kinds(right), [("all_to_home", 4)], "though it is the folder of a year that is gone")

    def test_what_another_took_is_looked_at_again(self):
        right = without("/journal/2015/", "/shop/")
        right |= dict.fromkeys(("/shop/0", "/shop/1"), (302, "/"))
        self.assertEqual(sorted(self.kinds(right)), [("all_to_home", 2), ("section_lost", 10), ("years_missing", 4)])

    def test_every_finding_that_counts_has_one_cause(self):
        on = ground(SITE, without("/2016/", "/shop/3") | {"/new": html("New"), "/shop/1": html("Other", "words")})
        taken = sum(one.takes.astype(int) for one in causes.find(on))
        self.assertEqual(taken.tolist(), on.own.astype(int).tolist())


class KindsTest(unittest.TestCase):
    def test_every_kind_has_a_line_or_is_of_a_check(self):
        written = "".join(
            file.read_text() for file in Path(causes.__file__).parent.glob("*.py") if file.stem != "cause_kind"
        )
        known = {f"recognised_{kind.name.lower()}" for kind in PageKind} | set(registry.KINDS)
        for word in cause_kind.KINDS:
            self.assertTrue(f'"{word}"' in written or word in known, word)

    def test_who_and_how_certain(self):
        self.assertEqual(cause_kind.of("recognised_parked").who, Who.DNS)
        self.assertEqual(
            cause_kind.of("something of a new check"), cause_kind.CauseKind(Who.ADMINISTRATOR, Certainty.SHOWN)
        )
        self.assertEqual(len({who.label for who in Who}), len(Who))
