"""Facts read from answers."""

import unittest

from palinode.core import facts as core_facts
from palinode.core.fields import Field, Place

HTML = {"content-type": "text/html; charset=utf-8"}
AT = "http://mill.example/visit/hours"


def read(body: str | bytes, **headers: str):
    data = body.encode() if isinstance(body, str) else body
    return core_facts.read(AT, HTML | {name.replace("_", "-"): value for name, value in headers.items()}, data)


PAGE = """<!doctype html><html lang="en-GB"><head><title> Opening
 hours </title><meta name="description" content="When we open"><link rel=canonical href="/visit/hours">
<link rel="alternate" hreflang="de" href="/de/besuch"><meta name="robots" content="NOINDEX, follow">
<meta property="og:title" content="Hours"><meta property="og:image" content="/wheel.png">
<script type="application/ld+json">{"@type": "Museum", "x": {"@type":"Place"}}</script></head><body>
<header><nav><a href="/">Home</a></nav></header>
<main><h1>Opening <em>hours</em></h1><p>From nine to <b>five</b>, see http://mill.example/tides.</p>
<ul><li>Monday<li>Tuesday</ul><p><a href="../shop?x=1#top">Shop</a><img src="a.png" alt="Wheel" srcset="a-2.png 2x, a-3.png 3x"></p>
<form method=POST action="/book"><input name=day><select name=size></select></form></main>
<footer><p>Since 1638</p><script>var hidden = 1</script></footer></body></html>"""


class FactsTest(unittest.TestCase):
    def test_head(self):
        facts = read(PAGE)
        self.assertEqual((facts.title, facts.description), ("Opening hours", "When we open"))
        self.assertEqual((facts.robots, facts.language), ("noindex", "en-gb"))
        self.assertEqual(facts.canonical, AT)
        self.assertEqual(facts.structured, ("Museum", "Place"))
        self.assertEqual(facts.open_graph, (("og:title", "Hours"),))

    def test_blocks_in_document_order_main_apart_from_template(self):
        blocks = read(PAGE).blocks
        self.assertEqual(
            [b.text for b in blocks if b.main][:4],
            ["Opening hours", "From nine to five, see \ufffc.", "Monday", "Tuesday"],
        )
        self.assertEqual([b.text for b in blocks if not b.main], ["Home", "Since 1638"])
        self.assertEqual(blocks[1].path, "body/main/h1")

    def test_what_is_longer_is_read_in_part_and_said_to_be(self):
        self.assertFalse(read("<main>" + "<p>x" * 1000).cut)
        self.assertEqual(len(read("<main>" + "<p>x" * 1000).blocks), 1000)
        many = read("<title>T</title><main>" + "<p>x" * 400_000)
        self.assertEqual((many.title, many.cut, len(many.blocks)), ("T", True, 149_999))
        self.assertTrue(read("<main>" + "a" * core_facts.MARKUP_LIMIT).cut)

    def test_references_with_their_places(self):
        facts = read(PAGE)
        found = {(r.place, r.address) for r in facts.references}
        for place, path in [
            (Place.CANONICAL, "/visit/hours"),
            (Place.HREFLANG, "/de/besuch"),
            (Place.OPEN_GRAPH, "/wheel.png"),
            (Place.TEMPLATE_LINK, "/"),
            (Place.TEXT, "/tides"),
            (Place.LINK, "/shop?x=1"),
            (Place.IMAGE, "/visit/a.png"),
            (Place.SRCSET, "/visit/a-3.png"),
            (Place.FORM, "/book"),
        ]:
            self.assertIn((place, f"http://mill.example{path}"), found)
        edges = facts.edges()
        self.assertEqual(len(edges.targets), len(facts.references))
        self.assertTrue(all(place < len(Field) for place in edges.places[: edges.compared]))
        self.assertTrue(all(place >= len(Field) for place in edges.places[edges.compared :]))
        self.assertEqual(edges.count(Place.IMAGE), sum(r.place == Place.IMAGE for r in facts.references))

    def test_the_sum_of_edges_knows_no_order_but_places(self):
        def summed(markup: str) -> int:
            return read(f"<main>{markup}</main>").edges().sum

        one, other = '<a href="/a">x</a>', '<a href="/b">x</a>'
        self.assertEqual(summed(one + other), summed(other + one))
        self.assertNotEqual(summed(one + other), summed(one))
        self.assertNotEqual(summed(one), summed('<img src="/a">'))
        self.assertEqual(summed(one), summed(f'{one}<img srcset="/c 2x">'), "no compared field")

    def test_forms_and_words(self):
        facts = read(PAGE)
        self.assertEqual([(f.method, f.fields) for f in facts.forms], [("post", ("day", "size"))])
        self.assertEqual(facts.words, 11)

    def test_without_main_all_but_the_template_is_main(self):
        facts = read("<body><nav>Menu</nav><div><p>One</p>Two<br>three</div><footer>Imprint</footer></body>")
        self.assertEqual([b.text for b in facts.blocks if b.main], ["One", "Two", "three"])

    def test_an_aside_is_a_note_of_the_text_unless_main_content_stands_apart(self):
        for around, is_main in (("<div>{}</div>", True), ("<main>One</main>{}", False), ("<main>{}</main>", True)):
            for note in ("<aside>Note</aside>", "<div role=complementary>Note</div>"):
                blocks = read(f"<body>{around.format(note)}</body>").blocks
                self.assertEqual([one.main for one in blocks if one.text == "Note"], [is_main], around)

    def test_headers_count(self):
        facts = read("<title>x</title>", x_robots_tag="noindex, nofollow", link='</c>; rel="canonical"')
        self.assertEqual((facts.robots, facts.canonical), ("nofollow, noindex", "http://mill.example/c"))
        self.assertEqual(read("<meta name=robots content=none>").robots, "nofollow, noindex")
        self.assertEqual(read("<meta name=robots content='index, follow'>").robots, "")

    def test_base_element(self):
        facts = read("<head><base href='/deep/er/'></head><main><a href=x>x</a></main>")
        self.assertEqual(facts.references[0].address, "http://mill.example/deep/er/x")

    def test_encodings(self):
        self.assertEqual(
            read("<title>M\xfchle</title>".encode("latin-1"), content_type="text/html; charset=iso-8859-1").title,
            "Mühle",
        )
        self.assertEqual(
            read("<meta charset=cp1252><title>\x93x\x94</title>".encode("latin-1"), content_type="text/html").title,
            "“x”",
        )
        self.assertEqual(
            read(b"\xef\xbb\xbf<title>M\xc3\xbchle</title>", content_type="text/html; charset=latin1").title, "Mühle"
        )
        self.assertEqual(read(b"<title>M\xfchle</title>", content_type="text/html; charset=nonsense").title, "Mühle")
        self.assertEqual(read("<title>ü</title>", content_type="text/html").title, "ü")

    def test_documents_are_told_by_their_bytes(self):
        one = core_facts.read(AT, {"content-type": "application/pdf"}, b"%PDF-1")
        other = core_facts.read(AT, {"content-type": "application/pdf"}, b"%PDF-2")
        self.assertEqual(one.title, "")
        self.assertNotEqual(one.fingerprints()[Field.DOCUMENT], other.fingerprints()[Field.DOCUMENT])
        self.assertNotEqual(core_facts.whole(one.fingerprints()), core_facts.whole(other.fingerprints()))

    def test_key_is_stable_and_counts_what_counts(self):
        key = core_facts.key(7, HTML, b"digest")
        self.assertEqual(key, core_facts.key(7, HTML | {"date": "today", "etag": "x"}, b"digest"))
        self.assertNotEqual(key, core_facts.key(8, HTML, b"digest"))
        self.assertNotEqual(key, core_facts.key(7, HTML | {"x-robots-tag": "noindex"}, b"digest"))
        self.assertNotEqual(key, core_facts.key(7, HTML, b"other"))

    def test_hostile_markup_is_only_markup(self):
        for body in [
            "",
            "<" * 5000,
            "<div>" * 100_000 + "deep",
            "<p " + "a=b " * 50_000 + ">x",
            "<table><tr><td>" * 3000,
            "\0<title>a\0b</title>",
            "<a href='" + "x" * 100_000 + "'>y</a>",
            "<svg><title>no</title></svg><p>yes",
            "<frameset><frame src=/f></frameset>",
        ]:
            with self.subTest(body[:20]):
                self.assertNotIn("\0", read(body).title)

    def test_fingerprints_differ_in_the_field_that_differs(self):
        for change, field in [
            (("<title> Opening", "<title> Closing"), Field.TITLE),
            (("When we", "Whether we"), Field.DESCRIPTION),
            (("NOINDEX", "index"), Field.ROBOTS),
            (("en-GB", "de"), Field.LANGUAGE),
            (("From nine", "From ten"), Field.TEXT),
            (('alt="Wheel"', 'alt="Stone"'), Field.IMAGES),
            (("name=day", "name=night"), Field.FORMS),
            (("Museum", "Mill"), Field.STRUCTURED),
            (('Hours"', 'Times"'), Field.OPEN_GRAPH),
        ]:
            before, after = read(PAGE).fingerprints(), read(PAGE.replace(*change)).fingerprints()
            self.assertEqual([Field(i) for i in (before != after).nonzero()[0]], [field])
