"""What is kept of a page's facts besides its columns: packed and unpacked, and as it was kept before."""

import unittest
import zlib

import orjson
from isal import isal_zlib

from palinode.core import edges, facts, packed_facts
from palinode.core.fields import Place
from palinode.core.packed_facts import PackedFacts, Written
from palinode.core.recognition.page_kind import PageKind

PAGE = """<html><head><title>Rye</title><link rel=canonical href="/shop/rye">
<meta property="og:type" content="product"><link rel=stylesheet href="/mill.css"></head>
<body class="postid-12"><nav><a href="/">Home</a></nav>
<main><h1>Rye</h1><p>Stone-ground <a href="/shop/wheat">not wheat</a></p><img src="/rye.png" alt="A sack">
<form method=post action="/order"><input name=sacks></form></main></body></html>"""


class RestTest(unittest.TestCase):
    def test_what_is_larger_than_any_page_makes_is_not_unpacked(self):
        for packed, said in ((zlib.compress(b" " * 60_000_000), "larger than any page"), (b"no zlib", "is broken")):
            with self.assertRaisesRegex(ValueError, said):
                packed_facts.unpacked(packed)

    def setUp(self):
        self.facts = facts.read("http://mill.example/shop/rye", {"content-type": "text/html"}, PAGE.encode())
        self.rest = PackedFacts(self.facts.rest())

    def test_all_comes_back_as_it_was(self):
        self.assertTrue(self.rest)
        self.assertEqual(self.rest.blocks, list(self.facts.blocks))
        self.assertEqual(self.rest.main, [(one.kind, one.text) for one in self.facts.blocks if one.main])
        told = [(one.place, one.written, one.label) for one in self.facts.references]
        self.assertEqual(self.rest.references, [Written(*one) for one in told])
        self.assertEqual(list(self.rest.written), [written for _, written, _ in told])
        self.assertEqual(self.rest.at(Place.IMAGE), [Written(Place.IMAGE, "/rye.png", "A sack")])
        self.assertEqual([one.written for one in self.rest.at(Place.LINK, Place.STYLE)], ["/mill.css", "/shop/wheat"])
        self.assertEqual(self.rest.forms, list(self.facts.forms))
        self.assertEqual(self.rest.open_graph, list(self.facts.open_graph))
        self.assertEqual(self.rest.identifier, self.facts.identifier)
        self.assertEqual(self.rest.recognised, (PageKind.NONE, ""))

    def test_identities_stand_in_a_column_and_come_back_in_document_order(self):
        kept = self.facts.edges()
        places = [one.place for one in self.rest.references]
        self.assertNotEqual(list(kept.places), places, "compared ones stand first in the column")
        found = edges.in_document_order(kept.targets, places).tolist()
        self.assertEqual(found, [one.ident for one in self.facts.references])
        self.assertEqual(edges.in_document_order(kept.targets[:0], []).tolist(), [])

    def test_what_was_kept_before_with_identities_is_read(self):
        kept = orjson.loads(isal_zlib.decompress(self.facts.rest()))
        kept["references"] = [1, [[one.place, str(one.ident), one.written, one.label] for one in self.facts.references]]
        before = PackedFacts(isal_zlib.compress(orjson.dumps(kept)))
        self.assertEqual(before.references, self.rest.references)
        self.assertEqual(list(before.written), list(self.rest.written))
        self.assertEqual(before.at(Place.STYLE), self.rest.at(Place.STYLE))

    def test_a_page_without_facts_has_nothing(self):
        nothing = PackedFacts(None)
        self.assertFalse(nothing)
        self.assertEqual((nothing.blocks, nothing.main, nothing.references, nothing.forms), ([], [], [], []))
        self.assertEqual((list(nothing.written), list(nothing.structured), nothing.identifier), ([], [], ""))
        self.assertEqual((nothing.open_graph, nothing.recognised), ([], (0, "")))
