"""What a dump holds, against the limits of a new host."""

import unittest

from demo.wordpress_dump import Post, WordPressDump
from palinode.core import fit, site_contents
from palinode.core.dumps.contents import Contents
from palinode.core.fit import Limits
from tests.core.site_items import database

SITE = WordPressDump(posts=[Post(1, "Tide", text="x" * 2_000_000), Post(2, "Ebb")])


def said(packed: int = 1_000_000, **limits) -> list[tuple[bool, str]]:
    """Return what fits and what does not."""
    held = database(SITE)
    contents = Contents({(one.database, one.name): one for one in held.tables})
    plain = site_contents.of_dump(contents, held.installations).plain
    return [(one.fits, one.said) for one in fit.points(plain, packed, Limits(**limits))]


class FitTest(unittest.TestCase):
    def test_nothing_is_said_of_what_is_not_known(self):
        self.assertEqual(said(), [])

    def test_sizes(self):
        self.assertEqual(said(upload=2), [(True, "The file has 1.0 MB, of 2.0 MB: it can be uploaded.")])
        self.assertEqual(
            said(packet=1),
            [
                (
                    False,
                    "The largest row, in table wp_posts, has 2.0 MB, of 1.0 MB. Raise max_allowed_packet, or the row is left out.",
                )
            ],
        )
        self.assertEqual([fits for fits, _ in said(seconds=30, memory=0.5, disk=3)], [True, False, False])

    def test_engines_and_character_sets(self):
        self.assertEqual(said(engines=("innodb",)), [(True, "Each table's engine is there.")])
        self.assertEqual(
            said(charsets=("latin1", "utf8")),
            [(False, "Character set utf8mb4 is not there, which 9 tables have: wp_comments.")],
        )
