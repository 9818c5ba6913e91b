"""Readers of what others wrote take time as its length: no input of a megabyte stops a machine.

Measured is the time of this process alone, by its growth: ten times the length may take ten times as long, with room.
"""

import io
import random
import time
import unittest
from collections.abc import Callable

from palinode.core import alignment, encoding, facts, fragments, header_set, http_cache, page, rule, volatile
from palinode.core.difference_signs import characters, dates, ending, markers, messages
from palinode.core.difference_signs.text import Text
from palinode.core.documents import address_list, css, feed, link_header, linked_data, manifest, sitemap, srcset
from palinode.core.documents.address_list import Tally
from palinode.core.expected import Expectation, What
from palinode.core.leftovers import answer, identifiers, wanted
from palinode.core.markup import Block, identifier
from palinode.core.resolver import Resolver
from palinode.core.robots import read as read_robots
from palinode.core.scope import Scope
from palinode.core.volatile import Volatile
from palinode.gather.exchange import decode
from palinode.gather.warc import reader, segment
from tests.core.test_fuzz import PIECES

SIZES = (10_000, 100_000, 1_000_000)
ROOM = 3
"""Times that growth may be more than the length's."""
SHORT = 0.02
"""Seconds that are too few to be measured."""
LONGEST = 15.0
"""Seconds for a megabyte at most, of a machine that does other things too."""
SEED = 20_261_127


def html(text: str) -> None:
    """Read a page whole: markup, references, recognition, what is kept."""
    found = facts.read("http://mill.example/x/", {"content-type": "text/html"}, text.encode("utf-8", "replace"))
    found.fingerprints()
    found.rest()


def warc(head: str) -> None:
    """Read a record whose response has such a head."""
    block = f"HTTP/1.1 200 OK\r\n{head}\r\n\r\n".encode("utf-8", "replace")
    record = b"WARC/1.1\r\nWARC-Type: response\r\nContent-Length: %d\r\n\r\n" % len(block) + block
    for one in reader.records(io.BytesIO(record)):
        assert len(segment.recorded(one).headers) <= 1_000


def contrast(text: str) -> None:
    """Look for all signs of why two pages differ."""
    blocks = tuple(Block("p", part, "p", True) for part in text.split("\n"))
    one = Text("http://a.example/", "", blocks)
    other = Text("http://b.example/", "", (*blocks, Block("p", text, "p", True)))
    for sign in (characters.damaged, dates.otherwise, ending.cut, ending.gone, markers.shown, messages.shown):
        sign(one, other)
        sign(other, one)


def masked(text: str) -> None:
    """Mask what is volatile, by templates made to be mistaken."""
    templates = ("a … a … a … a … a … b", "№:№:№", " ".join(["a", volatile.GAP] * 30), "… …")
    learnt = Volatile(templates=templates)
    learnt.masked([Block("p", part, "p", True) for part in text.split("\n")])


def learnt(text: str) -> None:
    """Learn what is volatile of two readings of a page."""
    blocks = [tuple(Block("p", part, "p", True) for part in made.split("\n")) for made in (text, text[::-1])]
    volatile.learn("http://a.example/", *(facts.Facts(blocks=one) for one in blocks))


def robots(rules: str) -> None:
    """Read rules, and ask them for an address of the longest kind."""
    read_robots(f"User-agent: *\n{rules}".encode())[1].can_fetch("http://mill.example/" + "a" * 8_000, "Palinode")


def listed(text: str) -> None:
    """Read a list, by the look of its cells and by a column."""
    for column in ("", "1"):
        list(address_list.read(text.split("\n"), Scope(("http://mill.example/",)), Tally(), column=column))


def packed(text: str) -> None:
    """Undo codings of what is none."""
    for coding in ("gzip", "deflate", "gzip, deflate, gzip"):
        decode(coding, text.encode())


def named(text: str) -> None:
    """Read the small fields."""
    page.charset(text)
    identifier.of_classes(text)
    identifier.of_address(text)
    http_cache.keeps({"cache-control": text})
    http_cache.retry_after({"retry-after": text}, 0)
    encoding.decode(text.encode("utf-8", "replace"))


WANTED = wanted.of_move(
    ["http://old.example/"],
    ["http://new.example/"],
    rule.read("http://old.example/ -> http://new.example/"),
    ["/var/www"],
    True,
)


def old_names(text: str) -> None:
    """Look for old names in a page."""
    answer.read([("content-type", "text/html")], text.encode(), WANTED)


def old_names_in_xml(text: str) -> None:
    """Look for old names in other documents."""
    for media in ("application/xml", "application/pdf"):
        answer.read([("content-type", media)], text.encode(), WANTED)


def replaced(text: str) -> None:
    """Put words in the place of others."""
    Expectation(1, What.WORDS, words="a*b*c*d", becomes="*").replaced(text)


def fragments_of(text: str) -> None:
    """Read the anchors of a page, and its links to anchors."""
    fragments.read(text, "http://mill.example/", Resolver())


READERS: list[tuple[Callable[[str], object], list[str]]] = [
    (fragments_of, ["<a ", "<a href=", '<a href="#', '<a href="#a">', ' id="', " id= ", " id  ", "<base ", "<a href='", " name=a"]),
    (lambda text: list(identifiers.find(text)), ["apikey:", "api-key ", "api_key='", "G-", "G-1", "6L", "AIza", "&key=a1", "UA-1", "pk_live_"]),
    (css.read, ["url(", 'url("', "url(\\", 'url("\\"', "/*", "/**", "@import ", '@import "', "url(a\\41 ", "url(  ", "\\"]),
    (srcset.read, ["(", "a (", ", ", "a ", "(a,", ")", "a,b ", "a (b) ", "a 1x,"]),
    (link_header.read, ["<", "<a>;", '<a>; a="', "<a>;a=b,", '<a>; a="\\"', "<a>  ", ";"]),
    (linked_data.read, ["[", '{"@type":"', '"@type"  ', '{"a":', '"@type":"a",']),
    (lambda text: feed.read(b"<rss>" + text.encode()), ["<item>", '<a b="', "<link>x</link>", "<![CDATA[", '<a b=""/>']),
    (lambda text: feed.read(b'{"items":[' + text.encode()), ["[", "{},", '{"url":"']),
    (lambda text: sitemap.read(b"<urlset>" + text.encode()), ["<url>", "<url><loc>x</loc></url>", "http://a "]),
    (lambda text: sitemap.read(text.encode()), ["http://a.example/ ", "<", "<a "]),
    (lambda text: manifest.read(text.encode()), ["[", '{"icons":', '{"icons":[{}],']),
    (named, [";", "; charset=", " ", "<meta ", "<meta charset=", "postid-", "max-age=", "p=1&", "/node/1"]),
    (robots, ["Disallow: /*a*a*a*b$\n", "*a", "a", "Allow: /%", "User-agent: *\nDisallow: /a\n", "$", "%zz"]),
    (listed, ["a [", ',"', ";", "http://mill.example/a/b/c\n", "1 1 [", 'a b c [d] "GET ', "\t"]),
    (warc, ["a: b\r\n", "a:\r\n", " a\r\n", ":", "Content-Encoding: gzip\r\n", "transfer-encoding: chunked\r\n\r\n1\r\na\r\n"]),
    (lambda text: header_set.of(f"HTTP/1.1 200 OK\r\n{text}".encode()), ["a: b\r\n", "x: a1", "set-cookie: ;", "content-security-policy: 'nonce-", "aaaaaaa1"]),
    (packed, ["\x1f\x8b\x08\0", "a", "x\x9c"]),
    (contrast, ["a in /a", "error: in /", "fatal error: x in /a on line ", "[a-a", "{{", "{%a", "may 1 ", "12:00 ", "1/", "\u00e9?", "a\nb\n"]),
    (masked, ["a ", "a a b ", "1:", "1:1:1\n", "x a ", "a x\n"]),
    (learnt, ["a\n", "a\nb\n", "a b ", "1:1\n"]),
    (lambda text: list(alignment.opcodes(text[: len(text) // 2], text[::-1])), ["a", "ab", "abc"]),
    (replaced, ["a", "ab", "abc", "a b c"]),
    (old_names, ["//old.example/", "old.example", "http:\\/\\/old.example", "%2f%2fold.example", "&#x2F;", "\\", "<a \"", "<!--old.example",
                 "<script>", "<style>old.example", "old.example.", "a@old.example", "<a b=old.example ", "old%2eexample", "QUJD"]),
    (old_names_in_xml, ["<a>old.example", "old.example", "<![CDATA[old.example", "<", "stream\n"]),
]  # fmt: skip

MARKUP = [
    "<", "&", "<p>", "<div>", "<div></b>", "<b><p>", "<b><i><u><p></b>", "<a>", "<a><div>", "<li>", "<table>", "x<tr>", "<form>",
    "<form><div>", "<form><div></form>", "<select><option>", "<option>", "<svg><title>", "<template>", "<header>", "<nav>",
    "<article><header></header>", "<i><div></i>", "<!--", "<!-->", "<script>", "<noscript>", "<noscript><p>script ",
    "<div id=root><!-- -->", "<div id=root>", "<font color=1>", "<iframe>", "<textarea>", "<base href=a>", "<meta name=a content=b>",
    "<link rel=alternate href=a>", "<img src=a srcset='a (,'>", "<p style='url(", " style=\"url(", "<style>url(", "<form><input name=a>",
    "http://", "http://a.b/,", "fatal error: x in /a", "<pre>error: ", "\x00", "<h1>a", "<title>", "]]>", "<body a>", "</p>",
]  # fmt: skip
DRAWN = 8


def numbered(start: str, piece: str, end: str) -> Callable[[int], str]:
    """Return what makes text of pieces that all differ by a number."""

    def make(size: int) -> str:
        pieces, length = [start], len(start)
        while length < size:
            pieces.append(piece % len(pieces))
            length += len(pieces[-1])
        return "".join([*pieces, end])

    return make


MARKUP_NUMBERED = [
    numbered("<p ", "a%d ", ">"),
    numbered("<p ", "a%d='>' ", ">"),
    numbered("<p x='<' ", "a%d ", ">"),
    numbered("", "<font color=%d><p>", ""),
    numbered("", "<font color=%d>", ""),
    numbered("", "<body a%d>", ""),
    numbered("", "<a href=/%d>x</a>", ""),
    numbered("", "<p id=a%d>http://a.example/%%d</p>".replace("%%d", "x"), ""),
]


class LinearTest(unittest.TestCase):
    def assert_linear(self, read: Callable[[str], object], make: Callable[[int], str]) -> None:
        before = None
        for size in SIZES:
            text = make(size)
            took = self.time(read, text)
            if before is not None and took > SHORT:
                grown = took / max(before, SHORT)
                self.assertLess(
                    grown, ROOM * 10, f"{size:,} characters took {took:.2f} s, a tenth of them {before:.2f} s"
                )
            self.assertLess(took, LONGEST, f"{size:,} characters")
            before = took

    def time(self, read: Callable[[str], object], text: str) -> float:
        started = time.process_time()
        try:
            read(text)
        except (reader.Damaged, address_list.ColumnError):
            pass
        return time.process_time() - started

    def test_each_reader(self):
        for read, pieces in READERS:
            for piece in pieces:
                with self.subTest(getattr(read, "__name__", "reader"), piece=piece):
                    self.assert_linear(read, lambda size, piece=piece: (piece * (size // len(piece) + 1))[:size])

    def test_markup(self):
        for piece in MARKUP:
            with self.subTest(piece):
                self.assert_linear(html, lambda size, piece=piece: (piece * (size // len(piece) + 1))[:size])

    def test_markup_of_which_no_piece_is_like_another(self):
        for make in MARKUP_NUMBERED:
            with self.subTest(make(60)):
                self.assert_linear(html, make)

    def test_long_repetitions_of_drawn_pieces(self):
        draw = random.Random(SEED)
        for _ in range(DRAWN):
            pieces = "".join(draw.choices(PIECES, k=draw.randint(2, 5)))
            start = "".join(draw.choices(PIECES, k=draw.randint(0, 3)))
            with self.subTest(start + pieces):
                self.assert_linear(html, lambda size, a=start, b=pieces: (a + b * (size // len(b) + 1))[:size])
            for read, _ in READERS[:4]:
                with self.subTest(start + pieces, read=getattr(read, "__name__", "reader")):
                    self.assert_linear(
                        lambda text, read=read: read(text.encode("utf-8", "replace").decode()),
                        lambda size, a=start, b=pieces: (a + b * (size // len(b) + 1))[:size],
                    )

    def test_what_once_stopped_the_machine(self):
        # Sixty-eight bytes of a style sheet took twenty-one seconds, each further escape seven times as long.
        for escapes in (9, 40, 4_000):
            text = "url(" + "\\abcdef" * escapes + '"'
            self.assertLess(self.time(css.read, text), 0.5)
            self.assertLess(self.time(html, f"<style>{text}</style><p style='{text}'>"), 0.5)
        # Forty empty remarks in a frame for scripts did the same.
        frame = "<script></script><div id=root>" + "<!---->" * 40 + "<"
        self.assertLess(self.time(html, frame), 0.5)
