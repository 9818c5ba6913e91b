"""Readers against anything: no exception leaves them, and what they return is bounded."""

import unittest

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from palinode.core import address as addresses
from palinode.core import connect, encoding, facts, rule
from palinode.core.documents import css, feed, link_header, linked_data, manifest, sitemap, srcset
from palinode.core.markup import attributes, nesting

CALM = settings(max_examples=150, deadline=None, suppress_health_check=[HealthCheck.too_slow])

PIECES = [
    "<", ">", "</", "/>", "<!--", "-->", "<![CDATA[", "]]>", "<!doctype html>", "<p>", "<a href=", "<script>", "</script>",
    "<style>", "<base href=", "<svg>", "<math>", "<template>", "<select>", "<table>", "<tr>", "<form>", "<meta charset=",
    "<title>", "&amp;", "&#0;", "&#x110000;", "\0", "\ufeff", "\ud83d", "url(", ")", "@import", "/*", "*/", "\\", '"', "'",
    "{", "}", "[", "]", ":", ",", ";", "@type", "http://", "//", "/..", "%", "%zz", "?", "#", "xn--", "[::1", "@", " ", "\n",
    "<rss>", "<item>", "<link>", "<urlset>", "<loc>", "<!ENTITY a 'b'>", "&a;", "->", "=>", "only", "1e999", "null", "1x",
]  # fmt: skip
few = st.lists(st.one_of(st.sampled_from(PIECES), st.text(max_size=8)), max_size=40).map("".join)
again = st.tuples(
    few, st.lists(st.sampled_from(PIECES), min_size=1, max_size=4).map("".join), st.integers(1, 3_000), few
)
"""Long repetitions of some pieces, with others around them."""
mess = st.one_of(few, again.map(lambda one: one[0] + one[1] * one[2] + one[3]))
raw = st.one_of(st.binary(max_size=200), mess.map(lambda text: text.encode("utf-8", "surrogatepass")))

PAGE = (
    b"<!doctype html><html lang=en><head><title>Mill</title><link rel=canonical href=/a></head><body><nav><a href=/>x</a>"
    b"</nav><main><h1>Mill</h1><p>Text at http://mill.example/b.</p><img src=a.png srcset='b.png 2x'></main></body></html>"
)
SITEMAP = b"<?xml version='1.0'?><urlset xmlns='http://www.sitemaps.org/schemas/sitemap/0.9'><url><loc>http://a.example/</loc></url></urlset>"


def mutated(data: bytes):
    """Return a strategy for data with some bytes changed, lost or doubled."""
    change = st.tuples(st.integers(0, len(data) - 1), st.integers(0, 12), st.binary(max_size=6))

    def apply(changes: list[tuple[int, int, bytes]]) -> bytes:
        out = data
        for at, length, put in changes:
            out = out[:at] + put + out[at + length :]
        return out

    return st.lists(change, min_size=1, max_size=6).map(apply)


class FuzzTest(unittest.TestCase):
    @CALM
    @given(
        st.one_of(raw, mutated(PAGE)),
        st.sampled_from(["text/html", "text/html; charset=utf-16", "text/html; charset=x"]),
    )
    def test_markup(self, body, content_type):
        found = facts.read("http://mill.example/x/", {"content-type": content_type, "link": "<a>; rel=next"}, body)
        self.assertLessEqual(len(found.title), 1000)
        found.rest()
        found.fingerprints()
        edges = found.edges()
        self.assertEqual(len(edges.targets), len(edges.places))
        self.assertLessEqual(edges.compared, len(edges.targets))
        for reference in found.references:
            self.assertEqual(addresses.normal(reference.address), reference.address)

    @CALM
    @given(mess)
    def test_nesting_is_bounded(self, text):
        self.assertLessEqual(len(nesting.bounded(text)), len(text))
        self.assertLessEqual(len(attributes.bounded(text)[0]), len(text))

    @CALM
    @given(st.one_of(raw, mutated(SITEMAP)))
    def test_sitemaps_feeds_and_manifests(self, body):
        for named in (sitemap.read(body).pages, feed.read(body).pages, *manifest.read(body)):
            self.assertTrue(all(isinstance(one, str) for one in named))

    @CALM
    @given(mess)
    def test_texts_that_hold_addresses(self, text):
        self.assertLessEqual(len(css.read(text)), css.LIMIT)
        self.assertTrue(all(srcset.read(text)))
        linked_data.read(text)
        for link in link_header.read(text):
            self.assertNotIn(">", link.target)

    @CALM
    @given(mess, st.sampled_from([None, "http://mill.example/a/b?c", "https://xn--mhle-0ra.example/"]))
    def test_addresses(self, text, base):
        found = addresses.normal(text, base)
        if found is not None:
            self.assertEqual(addresses.normal(found), found, "the normal form is its own normal form")
            self.assertTrue(-(2**63) <= addresses.ident(found) < 2**63)
            self.assertTrue(addresses.split(found).path.startswith("/"))
        try:
            addresses.typed(text)
        except addresses.AddressError as error:
            self.assertTrue(str(error))

    @CALM
    @given(raw, st.text(max_size=12))
    def test_encodings(self, body, label):
        self.assertIsInstance(encoding.decode(body, label), str)

    def test_what_no_browser_calls_an_encoding_is_none(self):
        body = b"rye \\u0041 xn--a \x00\xff"
        for label in ("UNDEFINED", "idna", "punycode", "unicode_escape", "raw_unicode_escape", "rot13", "hex"):
            self.assertEqual(encoding.decode(body, label), encoding.decode(body), label)

    @CALM
    @given(mess)
    def test_what_people_type(self, text):
        try:
            rule.read(text)
        except rule.RuleError as error:
            self.assertTrue(str(error))
        try:
            connect.lines("http://mill.example/", text, www=True)
        except connect.ConnectError as error:
            self.assertTrue(str(error))
