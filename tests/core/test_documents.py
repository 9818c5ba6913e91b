"""Addresses in style sheets, candidates of images, feeds, manifests, linked data and headers."""

import gzip
import unittest

from palinode.core import documents, facts
from palinode.core.documents import Document, css, feed, link_header, linked_data, manifest, sitemap, srcset
from palinode.core.documents.feed import Feed
from palinode.core.fields import Place

RSS = b"""<?xml version="1.0"?><rss version="2.0" xmlns:media="http://search.example/mrss/"><channel><link>http://mill.example/</link>
<atom:link xmlns:atom="http://www.w3.org/2005/Atom" rel="next" href="/feed?paged=2"/>
<item><link> http://mill.example/a </link><guid isPermaLink="false">x1</guid><enclosure url="/a.mp3" length="1" type="audio/mpeg"/></item>
<item><guid>http://mill.example/?p=7</guid><media:content url="/b.jpg"/></item></channel></rss>"""
ATOM = b"""<feed xmlns="http://www.w3.org/2005/Atom"><link rel="self" href="/feed"/><link rel="next" href="/feed/2"/>
<entry><link href="/one"/><link rel="enclosure" href="/one.mp3"/></entry></feed>"""


class CssTest(unittest.TestCase):
    def test_addresses(self):
        for text, wanted in [
            ("a{background:url(x.png)}", ["x.png"]),
            ("a{background: URL( 'x y.png' ) , url(\"z.png\")}", ["x y.png", "z.png"]),
            ("@import 'base.css'; @import url(more.css) screen;", ["base.css", "more.css"]),
            ("@font-face{src:url(f.woff2) format('woff2'),url(f.ttf)}", ["f.woff2", "f.ttf"]),
            ("/* url(no.png) */ b{}", []),
            ("a{b:url(data:image/png;base64,AA==)} c{d:url(#mark)}", []),
            (r"a{b:url(a\20 b.png)} c{d:url(\66oo.png)}", ["a b.png", "foo.png"]),
            ("a{b:url(", []),
            ("a{b:url(x.png)} c{d:url(x.png)}", ["x.png"]),
        ]:
            with self.subTest(text):
                self.assertEqual(css.read(text), wanted)

    def test_bounded(self):
        self.assertEqual(len(css.read("".join(f"url({n}.png) " for n in range(css.LIMIT + 9)))), css.LIMIT)


class SrcsetTest(unittest.TestCase):
    def test_candidates(self):
        for text, wanted in [
            ("a.png 1x, b.png 2x", ["a.png", "b.png"]),
            ("a.png,b.png 2x", ["a.png,b.png"]),
            ("a.png 1x,b.png 2x", ["a.png", "b.png"]),
            ("a.png, b.png", ["a.png", "b.png"]),
            (" a.png 100w ,\n b.png 200w", ["a.png", "b.png"]),
            ("a,b.png 2x", ["a,b.png"]),
            ("data:image/png;base64,AA 1x, b.png 2x", ["b.png"]),
            ("a.png", ["a.png"]),
            (", ,", []),
            ("", []),
        ]:
            with self.subTest(text):
                self.assertEqual(srcset.read(text), wanted)


class FeedTest(unittest.TestCase):
    def test_rss(self):
        found = feed.read(RSS)
        self.assertEqual(found.pages, ["http://mill.example/", "http://mill.example/a", "http://mill.example/?p=7"])
        self.assertEqual((found.files, found.feeds), (["/a.mp3", "/b.jpg"], ["/feed?paged=2"]))

    def test_atom(self):
        self.assertEqual(feed.read(ATOM), Feed(["/one"], ["/one.mp3"], ["/feed/2"]))

    def test_json_feed(self):
        given = b'{"version":"1.1","next_url":"/2","items":[{"url":"/a","image":"/a.jpg"},{"id":1},7]}'
        self.assertEqual(feed.read(given), Feed(["/a"], ["/a.jpg"], ["/2"]))

    def test_what_is_no_feed_names_nothing(self):
        bomb = b'<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><rss><item><link>&b;</link></item></rss>'
        for body in (b"", b"<rss>", b"<urlset><url><loc>/x</loc></url></urlset>", b"{", b"[1]", b'{"items":7}', bomb):
            with self.subTest(body[:20]):
                self.assertEqual(feed.read(body), Feed())


class SitemapTest(unittest.TestCase):
    def test_images_videos_and_other_languages(self):
        body = b"""<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9" xmlns:image="http://maps.example/image"
            xmlns:xhtml="http://www.w3.org/1999/xhtml"><url><loc>/a</loc><xhtml:link rel="alternate" hreflang="de" href="/de/a"/>
            <image:image><image:loc>/a.jpg</image:loc><image:title>/no.jpg</image:title></image:image></url></urlset>"""
        self.assertEqual(sitemap.read(body), sitemap.Sitemap(["/a", "/de/a"], [], ["/a.jpg"]))


class ManifestTest(unittest.TestCase):
    def test_start_icons_and_shortcuts(self):
        given = b'{"start_url":"/?from=app","icons":[{"src":"/i.png"},7],"shortcuts":[{"url":"/tides","icons":[{"src":"/t.png"}]}]}'
        self.assertEqual(manifest.read(given), (["/?from=app", "/tides"], ["/i.png", "/t.png"]))

    def test_what_is_no_manifest_names_nothing(self):
        for body in (b"", b"[]", b"{", b'{"icons":{"src":"/x"},"start_url":7,"shortcuts":[1]}'):
            self.assertEqual(manifest.read(body), ([], []))


class LinkedDataTest(unittest.TestCase):
    def test_types_pages_and_files(self):
        given = """{"@context":"https://schema.example","@type":"Recipe","url":"/bread","image":["/b.jpg",{"@type":"ImageObject","url":"/c.jpg"}],
            "author":{"@type":"Person","@id":"http://mill.example/people/a"},"name":"/not/this"}"""
        types, pages, files = linked_data.read(given)
        self.assertEqual(set(types), {"Recipe", "ImageObject", "Person"})
        self.assertEqual((set(pages), set(files)), ({"/bread", "http://mill.example/people/a", "/c.jpg"}, {"/b.jpg", "/c.jpg"}))  # fmt: skip

    def test_broken_and_deep(self):
        self.assertEqual(linked_data.read('{"@type":"Museum",}'), (["Museum"], [], []))
        deep = '{"url":' * 200 + '"/x"' + "}" * 200
        self.assertEqual(linked_data.read(deep)[1], [])


class LinkHeaderTest(unittest.TestCase):
    def test_links(self):
        header = '</a>; rel="canonical", <b?x=1,2>;rel=next; title="a, b", <c>; rel="prev preload"; as=image, <d>'
        self.assertEqual(
            [(link.target, link.relations) for link in link_header.read(header)],
            [("/a", ("canonical",)), ("b?x=1,2", ("next",)), ("c", ("prev", "preload")), ("d", ())],
        )

    def test_the_first_relation_counts(self):
        (link,) = link_header.read("<a>; rel=next; rel=prev")
        self.assertEqual(link.relations, ("next",))


class PageTest(unittest.TestCase):
    def test_every_place_in_a_page(self):
        body = b"""<head><link rel=manifest href=/m.webmanifest><link rel=preload as=image href=/p.png imagesrcset="/p2.png 2x">
            <link rel=apple-touch-icon href=/touch.png><style>body{background:url(/paper.png)}</style>
            <script type="application/ld+json">{"@type":"Museum","url":"/about","logo":"/logo.svg"}</script></head><body>
            <div style="background:url(&quot;/wave.png&quot;)"></div><video poster=/still.jpg src=/v.mp4></video>
            <object data=/map.svg></object><img src=/a.png srcset="/a-2.png 2x,/b-3.png 3x"><script>var x = "url(/no.png)"</script>"""
        headers = {"content-type": "text/html", "link": "</old>; rel=shortlink, </h.css>; rel=stylesheet"}
        found = facts.read("http://mill.example/x", headers, body).references
        self.assertEqual(
            {(one.place, one.written) for one in found},
            {
                (Place.MANIFEST, "/m.webmanifest"), (Place.MEDIA, "/p.png"), (Place.SRCSET, "/p2.png"),
                (Place.STYLE, "/touch.png"), (Place.STYLE, "/paper.png"), (Place.DATA, "/about"),
                (Place.MEDIA, "/logo.svg"), (Place.STYLE, "/wave.png"), (Place.MEDIA, "/still.jpg"),
                (Place.MEDIA, "/v.mp4"), (Place.MEDIA, "/map.svg"), (Place.IMAGE, "/a.png"),
                (Place.SRCSET, "/a-2.png"), (Place.SRCSET, "/b-3.png"), (Place.TEMPLATE_LINK, "/old"),
                (Place.STYLE, "/h.css"),
            },
        )  # fmt: skip


class ToldTest(unittest.TestCase):
    """What a file is, by what it says."""

    def test_by_the_first_element_whatever_its_type(self):
        urlset = b'<?xml version="1.0"?><!-- made at noon --><urlset xmlns="x"><url><loc>/a</loc></url></urlset>'
        for body, document in [
            (urlset, Document.SITEMAP),
            (b"\xef\xbb\xbf\n<sitemapindex></sitemapindex>", Document.SITEMAP),
            (b"<s:urlset xmlns:s='x'/>", Document.SITEMAP),
            (gzip.compress(urlset), Document.SITEMAP),
            (b'<?xml-stylesheet href="a.xsl"?>\n<rss version="2.0"><channel/></rss>', Document.FEED),
            (b'<!DOCTYPE rss [<!ENTITY nbsp "&#160;">]><rss><channel/></rss>', Document.FEED),
            (b'<feed xmlns="http://www.w3.org/2005/Atom"/>', Document.FEED),
            (b'<rdf:RDF xmlns:rdf="x"/>', Document.FEED),
            (b'{"version": "https://jsonfeed.org/version/1.1", "items": []}', Document.FEED),
            (b'{"short_name": "Mill", "start_url": "/"}', Document.MANIFEST),
            (b"<!doctype html><html><p>&lt;urlset&gt;</p></html>", None),
            (b"<html><urlset></urlset></html>", None),
            (b"http://mill.example/a\nhttp://mill.example/b", None),
            (b'{"name": "Mill", "start": "/"}', None),
            (b"<urlsets></urlsets>", None),
            (b"", None),
            (b"\x1f\x8bno gzip", None),
        ]:
            for media in ("text/html", "application/octet-stream", "text/plain"):
                with self.subTest(body[:40], media=media):
                    self.assertIs(documents.told(media, body), document)
        self.assertIs(documents.told("text/css", b"a{}"), Document.STYLE)
        self.assertIs(documents.told("application/manifest+json", b"{}"), Document.MANIFEST)
