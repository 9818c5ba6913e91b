"""Leftovers: every spelling and every place, look-alikes, what is expected instead, and the rows of the check."""

import base64
import random
import unittest
import zlib
from unittest import mock

import numpy as np

from palinode.core import address as addresses
from palinode.core.answers import FileAnswers
from palinode.core.checks.leftovers.check import CHECK, LeftoversOptions
from palinode.core.checks.looked import Looked, Side
from palinode.core.leftovers import answer, search, served, wanted
from palinode.core.leftovers.search import Kind
from palinode.core.leftovers.served import Gathering, ServedLeftovers
from palinode.core.leftovers.wanted import OldName, Wanted
from palinode.core.rule import read

OLD, NEW = "http://tidemill.example", "https://quillhaven.example"
RULE = read(f"{OLD}/shop -> {NEW}/store\n{OLD}/ -> {NEW}/")
WANTED = wanted.of_move([f"{OLD}/"], [f"{NEW}/"], RULE, ["/var/www/mill", "203.0.113.9", "old-stage.example"], True)
HTML = "text/html"


def found(text: str, looked_for: Wanted = WANTED) -> list[tuple[str, str]]:
    """Return what is found in a text, with what is expected in its place."""
    return [
        (one.written, search.expected(one, RULE)) for one in search.find(text, looked_for) if one.kind is not Kind.BELOW
    ]


def replaced(text: str) -> str:
    """Return a text with what is expected in the place of each leftover."""
    pieces, at = [], 0
    for one in search.find(text, WANTED):
        if one.kind is Kind.BELOW:
            continue
        pieces += [text[at : one.start], search.expected(one, RULE)]
        at = one.end
    return "".join([*pieces, text[at:]])


SPELLINGS = (
    "{scheme}://tidemill.example{path}",
    "{scheme}://www.tidemill.example{path}",
    "//tidemill.example{path}",
    "HTTP://TideMill.EXAMPLE{path}",
    "{scheme}:\\/\\/tidemill.example{escaped}",
    "\\/\\/tidemill.example{escaped}",
    "{scheme}:\\\\\\/\\\\\\/tidemill.example{twice_escaped}",
    "{scheme}%3A%2F%2Ftidemill.example{percent}",
    "{scheme}%3a%2f%2ftidemill.example{percent_low}",
    "{scheme}%253A%252F%252Ftidemill.example{percent_twice}",
    "{scheme}:&#x2F;&#x2F;tidemill.example{entity}",
    "{scheme}:&#47;&#47;tidemill.example{entity_number}",
    "{scheme}&#58;&sol;&sol;tidemill.example",
    "{scheme}:&amp;#x2F;&amp;#x2F;tidemill.example",
    "{scheme}:\\u002F\\u002Ftidemill.example{code}",
    "\\u0022{scheme}:\\u002f\\u002ftidemill.example\\u0022",
    "tidemill.example",
    "anna@tidemill.example",
    "{scheme}://tidemill%2Eexample{path}",
    "{scheme}://anna:secret@tidemill.example{path}",
)
LOOK_ALIKES = (
    "{scheme}://tidemill.example.org{path}",
    "{scheme}://mytidemill.example{path}",
    "{scheme}://shop.tidemill.example{path}",
    "{scheme}://tidemill.examples{path}",
    "{scheme}://tidemill-example{path}",
    "//not-tidemill.example{path}",
    "{scheme}:\\/\\/tidemill.example.net{escaped}",
    "{scheme}%3A%2F%2Ftidemill.example.org{percent}",
    "tidemill.example.org",
    "anna@mail.tidemill.example",
    "{scheme}:&#x2F;&#x2F;atidemill.example{entity}",
    "tidemill_example",
)
AROUND = ("{}", '"{}"', "see {} there", "url({})", "'{}'", "x={}", "{}\n", "<b>{}</b>", "({})", "a, {}, b")


def written(form: str, draw: random.Random) -> str:
    """Return a spelling with a path, in some text."""
    pieces = ["".join(draw.choices("abcdeghiklmnoprst-", k=draw.randint(3, 9))) for _ in range(draw.randint(0, 3))]
    path = "".join(f"/{piece}" for piece in pieces)
    ways = {
        "scheme": draw.choice(["http", "https"]),
        "path": path,
        "escaped": path.replace("/", "\\/"),
        "twice_escaped": path.replace("/", "\\\\\\/"),
        "percent": path.replace("/", "%2F"),
        "percent_low": path.replace("/", "%2f"),
        "percent_twice": path.replace("/", "%252F"),
        "entity": path.replace("/", "&#x2F;"),
        "entity_number": path.replace("/", "&#47;"),
        "code": path.replace("/", "\\u002F"),
    }
    return draw.choice(AROUND).format(form.format(**ways))


class SpellingTest(unittest.TestCase):
    def test_planted_in_every_spelling_and_look_alikes(self):
        draw = random.Random(4)
        for form in SPELLINGS:
            for _ in range(100):
                text = written(form, draw)
                with self.subTest(form, text=text):
                    self.assertEqual(len(found(text)), 1)
                    self.assertTrue(WANTED.may_be_in(text.encode()))
        for form in LOOK_ALIKES:
            for _ in range(170):
                text = written(form, draw)
                with self.subTest(form, text=text):
                    self.assertEqual(found(text), [])

    def test_what_was_replaced_has_no_leftover(self):
        draw = random.Random(5)
        for form in SPELLINGS:
            for _ in range(50):
                text = written(form, draw)
                with self.subTest(form, text=text):
                    again = replaced(text)
                    self.assertEqual(found(again), [])
                    self.assertIn("quillhaven", again)

    def test_what_is_expected(self):
        for old, new in (
            (f"{OLD}/shop/rye?a=1&b=2#top", f"{NEW}/store/rye?a=1&b=2#top"),
            (OLD, NEW),
            (f"{OLD}/", f"{NEW}/"),
            ("//www.tidemill.example/a.jpg", "//quillhaven.example/a.jpg"),
            (r"http:\/\/tidemill.example\/shop\/x", r"https:\/\/quillhaven.example\/store\/x"),
            ("http%3A%2F%2Ftidemill.example%2Fa%20b", "https%3A%2F%2Fquillhaven.example%2Fa%20b"),
            ("http%3a%2f%2ftidemill.example%2fshop", "https%3a%2f%2fquillhaven.example%2fstore"),
            ("http:&#x2F;&#x2F;tidemill.example&#x2F;a", "https:&#x2F;&#x2F;quillhaven.example&#x2F;a"),
            ("tidemill.example", "quillhaven.example"),
            ("anna@tidemill.example", "anna@quillhaven.example"),
            ("/var/www/mill", ""),
            ("203.0.113.9", ""),
            ("http://old-stage.example/a", ""),
        ):
            with self.subTest(old):
                self.assertEqual(found(old), [(old, new)])

    def test_where_an_address_ends(self):
        for text, one in (
            (f"See {OLD}/a.", f"{OLD}/a"),
            (f"({OLD}/a)", f"{OLD}/a"),
            (f"{OLD}/mill_(wheel)", f"{OLD}/mill_(wheel)"),
            (f"{OLD}/a.jpg 1x, x", f"{OLD}/a.jpg"),
            (f"url(&quot;{OLD}/a&quot;)", f"{OLD}/a"),
            (f"{OLD}/?a=1&amp;b=2;", f"{OLD}/?a=1&amp;b=2"),
            (f'{{"a":"{OLD}\\u0022}}', OLD),
        ):
            with self.subTest(text):
                self.assertEqual([written for written, _ in found(text)], [one])

    def test_paths_numbers_and_base64(self):
        self.assertEqual([one for one, _ in found("/var/www/mill/a.php /var/www/mills /srv/var/www/mill")],
                         ["/var/www/mill"])  # fmt: skip
        self.assertEqual([one for one, _ in found(r"\/var\/www\/mill\/wp")], [r"\/var\/www\/mill"])
        self.assertEqual([one for one, _ in found("203.0.113.9:80 203.0.113.90 1203.0.113.9")], ["203.0.113.9"])
        coded = base64.b64encode(f"<a href='{OLD}/shop/x'>".encode()).decode()
        (one,) = search.find(f"x={coded}&", WANTED)
        self.assertEqual((one.written, one.in_base64), (f"{OLD}/shop/x", True))
        self.assertEqual(found(coded, wanted.of_move([f"{OLD}/"], [f"{NEW}/"], RULE)), [])

    def test_of_two_that_begin_alike_the_longer_one(self):
        # One folder of the server lies within another one.
        both = wanted.of_move([f"{OLD}/"], [f"{NEW}/"], RULE, ["/srv/mill", "/srv/mill/www", "/srv/mill"])
        self.assertEqual([one for one, _ in found("in /srv/mill/www/a", both)], ["/srv/mill/www"])
        coded = base64.b64encode(f"{OLD}/shop/something/long".encode()).decode()
        self.assertEqual(len(list(search.find(f"{coded} {coded}", WANTED))), 2)

    def test_names_below_the_old_one_are_told_apart(self):
        def below(text: str, looked_for: Wanted = WANTED) -> list[str]:
            return [one.written for one in search.find(text, looked_for) if one.kind is Kind.BELOW]

        for text, one in (
            ("see cdn.tidemill.example.", "cdn.tidemill.example"),
            ("http://a.cdn.tidemill.example/x.js'", "http://a.cdn.tidemill.example/x.js"),
            (r'"http:\/\/cdn.tidemill.example\/x"', r"http:\/\/cdn.tidemill.example\/x"),
            ("u=http%3A%2F%2Fcdn.tidemill.example%2Fx", "http%3A%2F%2Fcdn.tidemill.example%2Fx"),
            (r"\ncdn.tidemill.example", "cdn.tidemill.example"),
            ("anna@mail.tidemill.example", "anna@mail.tidemill.example"),
        ):
            with self.subTest(text):
                self.assertEqual((below(text), found(text)), ([one], []))
        for text in ("my-tidemill.example", "cdn.tidemill.example.org", "-.tidemill.example", "a_b.tidemill.example"):
            with self.subTest(text):
                self.assertEqual((below(text), found(text)), ([], []))
        # The new site may stand below the old name.
        new = "http://new.tidemill.example/"
        stays = wanted.of_move([f"{OLD}/"], [new], read(f"{OLD}/ -> {new}"))
        self.assertEqual((below(f"{new}a", stays), below("http://www.new.tidemill.example/", stays)), ([], []))
        self.assertEqual(len(list(search.find(f"{OLD}/a {new}a", stays))), 1)

    def test_names_that_stay(self):
        def names(old: str, new: str, lines: str) -> tuple[OldName, ...]:
            return wanted.of_move([old], [new], read(lines)).names

        same = "http://mill.example/"
        self.assertEqual(names(same, same, f"{same} -> {same}"), ())
        secure = wanted.of_move([same], ["https://mill.example/"], read(f"{same} -> https://mill.example/"))
        texts = ("http://mill.example/a", "https://mill.example/a", "//mill.example/a", "mill.example")
        self.assertEqual([len(found(text, secure)) for text in texts], [1, 0, 0, 0])
        here, there = "http://mill.example:8080/", "http://mill.example:9090/"
        port = wanted.of_move([here], [there], read(f"{here} -> {there}"))
        texts = (f"{here}a", f"{there}a", "http://mill.example/a", "mill.example", "//mill.example:8080/a")
        self.assertEqual([len(found(text, port)) for text in texts], [1, 0, 0, 0, 1])
        other = wanted.of_move([here], [f"{NEW}/"], read(f"{here} -> {NEW}/"))
        self.assertEqual([len(found(text, other)) for text in texts], [1, 1, 1, 1, 1])
        folder = wanted.of_move([f"{same}old/"], [same], read(f"{same}old/ -> {same}"))
        texts = (
            "http://mill.example/old/a",
            "http://mill.example/older",
            "http://mill.example/a",
            "//mill.example/old",
        )
        self.assertEqual([len(found(text, folder)) for text in texts], [1, 0, 0, 1])


class PlaceTest(unittest.TestCase):
    def places(self, body: str, media: str = HTML, **headers: str) -> dict[str, tuple[str, int]]:
        fields = [("content-type", media), *headers.items()]
        return {one.place.name: (one.written, one.times) for one in answer.read(fields, body.encode(), WANTED)}

    def test_each_place_of_a_page(self):
        for markup, place in (
            ('<a href="{}">x</a>', "link"),
            ("<img src={}>", "image"),
            ('<img data-src="{}">', "image"),
            ('<img srcset="x 1x, {} 2x">', "image"),
            ('<script src="{}"></script>', "script"),
            ('<script>let a = "{}"</script>', "script"),
            ('<script type="application/ld+json">{{"url": "{}"}}</script>', "structured data"),
            ("<style>a {{ background: url({}) }}</style>", "style sheet in the page"),
            ('<p style="background: url({})">', "inline style"),
            ("<p onclick=\"go('{}')\">", "script in an attribute"),
            ('<link rel="canonical" href="{}">', "canonical link"),
            ('<link rel=stylesheet href="{}">', "style sheet"),
            ('<form action="{}">', "form"),
            ('<button formaction="{}">', "form"),
            ('<iframe src="{}"></iframe>', "frame"),
            ('<video poster="{}">', "film"),
            ('<meta property="og:url" content="{}">', "meta"),
            ('<meta http-equiv="refresh" content="0; url={}">', "redirect in the page"),
            ('<div data-settings=\'{{"a": "{}"}}\'>', "attribute data-settings"),
            ('<base href="{}">', "base of all addresses"),
            ("<!-- {} -->", "comment"),
            ("<p>{}</p>", "visible text"),
            ("<p title='a > b'>{}</p>", "visible text"),
        ):
            with self.subTest(place, markup=markup):
                text = f"<!doctype html><body><p>x</p>{markup.format(f'{OLD}/a')}<p>http://tidemill.example.org/</p>"
                self.assertEqual(self.places(text), {place: (f"{OLD}/a", 1)})
                self.assertEqual(self.places(text.replace("tidemill.example/", "tidemill.example.org/")), {})

    def test_other_documents_and_header_fields(self):
        self.assertEqual(
            self.places(f"a {{ src: url({OLD}/f.woff) }}", "text/css"), {"style sheet": (f"{OLD}/f.woff", 1)}
        )
        self.assertEqual(list(self.places(f'fetch("{OLD}/x")', "application/javascript")), ["script file"])
        self.assertEqual(list(self.places(f"Sitemap: {OLD}/map.xml", "text/plain")), ["text file"])
        feed = f"<rss><item><guid isPermaLink='false'>{OLD}/?p=1</guid><link>{OLD}/a</link></item></rss>"
        self.assertEqual(
            list(self.places(feed, "application/rss+xml")), ["identifier of a feed's item", "element link"]
        )
        told = self.places("", location=f"{OLD}/a", **{"set-cookie": "a=1; domain=.tidemill.example", "etag": OLD})
        self.assertEqual(told["header location"], (f"{OLD}/a", 1))
        self.assertEqual(told["header set-cookie"], ("tidemill.example", 1))
        self.assertEqual(len(told), 2)
        packed = b"%PDF-1.7 stream\n" + zlib.compress(f"/URI ({OLD}/a)".encode()) + b"endstream"
        (one,) = answer.read([("content-type", "application/pdf")], packed, WANTED)
        self.assertEqual((one.place.name, one.written), ("link in a document", f"{OLD}/a"))
        wide = f'<a href="{OLD}/a">'.encode("utf-16")
        self.assertEqual(len(answer.read([("content-type", HTML)], wide, WANTED)), 1)


class CheckTest(unittest.TestCase):
    def served(self, pages: dict[str, tuple[str, str]]) -> tuple[ServedLeftovers, FileAnswers]:
        """Return the leftovers of some answers: path to media type and body."""
        gathering = Gathering(WANTED)
        idents = {f"{NEW}{path}": addresses.ident(f"{NEW}{path}") for path in pages}
        for address, (media, body) in zip(idents, pages.values(), strict=True):
            gathering.add(idents[address], address, answer.read([("content-type", media)], body.encode(), WANTED))
        files = [
            (idents[f"{NEW}{path}"], f"{NEW}{path}") for path, (media, _) in pages.items() if not media.endswith("html")
        ]
        shown = np.array([idents[f"{NEW}{path}"] for path, (media, _) in pages.items() if media == HTML], np.int64)
        return gathering.made(), file_answers(files, 200, shown)

    def judged(self, pages: dict[str, tuple[str, str]], gone: tuple[str, ...] = ()):
        leftovers, files = self.served(pages)
        same = ServedLeftovers.of(WANTED, leftovers.arrays())
        self.assertEqual([one.written for one in same.forms], [one.written for one in leftovers.forms])
        left = file_answers([(addresses.ident(OLD + path), OLD + path) for path in gone], 404, np.zeros(0, np.int64))
        sides = Side((f"{OLD}/",), files=left), Side((f"{NEW}/",), files=files, leftovers=same)
        return CHECK.judge(Looked(*sides, RULE, "Palinode", options=LeftoversOptions()))

    def rows(self, made) -> list[tuple[str, ...]]:
        told = made.rows
        groups = [told.groups[at] for at in told.group.tolist()]
        words = [CHECK.verdicts[at].word for at in told.verdict.tolist()]
        return list(zip(words, groups, told.left_note, told.left, told.right, told.right_note, strict=True))

    def test_rows_by_what_must_be_mended(self):
        menu = f'<a href="{OLD}/shop/all">Shop</a>'
        pages = {
            f"/p{n}": (HTML, f'<html>{menu}<p><a href="https://www.tidemill.example/journal/{n}">x</a></p>')
            for n in range(6)
        }
        pages["/p0"] = (HTML, pages["/p0"][1] + '<img src="//tidemill.example/up/a.jpg"> anna@tidemill.example')
        pages["/mill.css"] = ("text/css", "a { src: url(https://tidemill.example/font.woff) }")
        pages["/feed"] = ("application/rss+xml", f"<rss><item><guid>{OLD}/?p=1</guid></item></rss>")
        made = self.judged(pages, gone=("/nothing",))
        self.assertEqual(
            self.rows(made),
            [
                ("works", "In the template of pages", "link, in the template", f"{OLD}/shop/all", f"{NEW}/store/all", "while the old host answers"),
                ("loads", "In the text of pages", "image", "//tidemill.example/up/a.jpg", "//quillhaven.example/up/a.jpg", ""),
                ("works", "In the text of pages", "link", "https://www.tidemill.example/journal/…", f"{NEW}/journal/…",
                 "while the old host answers"),
                ("named", "In the text of pages", "visible text", "anna@tidemill.example", "anna@quillhaven.example",
                 "is there such a mailbox?"),
                ("loads", "In style sheets, scripts and other files", "style sheet", "https://tidemill.example/font.woff",
                 f"{NEW}/font.woff", ""),
                ("stays", "Must stay as they are", "identifier of a feed's item", f"{OLD}/?p=1", f"{OLD}/?p=1",
                 "readers would show old items as new"),
            ],
        )  # fmt: skip
        told = made.findings
        words = {told.kind_of(at).word for at in range(len(told))}
        self.assertEqual(words, {"leftover_loaded", "leftover_linked", "leftover_mail"})
        at = made.rows.left.index("https://www.tidemill.example/journal/…")
        self.assertEqual((made.rows.numbers["times"][at], made.rows.numbers["answers"][at]), (6, 6))
        items = made.rows.items[int(made.rows.numbers["items"][at])]
        self.assertEqual(len(items), 6)
        self.assertIn('<a href="https://www.tidemill.example/journal/', items.columns[1][0])

    def test_addresses_that_differ_in_a_parameter_are_one_row(self):
        guids = "".join(f"<item><guid>{OLD}/?p={n}</guid></item>" for n in range(5))
        told = self.rows(self.judged({"/feed": ("application/rss+xml", f"<rss>{guids}</rss>")}, gone=()))
        self.assertEqual([row[3:5] for row in told], [(f"{OLD}/?p=…", f"{OLD}/?p=…")])

    def test_what_does_not_work_any_more(self):
        pages = {
            "/a": (
                HTML,
                f'<img src="{OLD}/x.png"><a href="https://tidemill.example/gone">x</a><form action="{OLD}/f">',
            ),
        }
        made = self.judged(pages, gone=())
        told = {row[2]: (row[0], row[5]) for row in self.rows(made)}
        self.assertEqual(told["image"], ("broken", "http on an https page"))
        self.assertEqual(told["form"], ("works", "while the old host answers"))
        kinds = {made.findings.kind_of(at).word for at in range(len(made.findings))}
        self.assertEqual(kinds, {"leftover_insecure", "leftover_sent", "leftover_linked"})
        pages = {"/a": (HTML, f'<a href="{OLD}/gone">x</a>')}
        (row,) = self.rows(self.judged(pages, gone=("/gone",)))
        self.assertEqual((row[0], row[5]), ("broken", "the old host has no such page"))

    def test_an_address_that_stays_by_the_rule_is_none(self):
        pages = {"/a": (HTML, f'<a href="{OLD}/archive/x">x</a><a href="{OLD}/b">x</a>')}
        leftovers, files = self.served(pages)
        sides = Side((f"{OLD}/",)), Side((f"{NEW}/",), files=files, leftovers=leftovers)
        lines = read(f"{OLD}/archive -> {OLD}/archive\n{OLD}/ -> {NEW}/")
        self.assertEqual([row[3] for row in self.rows(CHECK.judge(Looked(*sides, lines, "Palinode")))], [f"{OLD}/b"])

    def test_more_forms_than_are_kept(self):
        pages = {"/a": (HTML, "".join(f'<a href="{OLD}/{at}">x</a>' for at in range(5)))}
        with mock.patch.object(served, "MOST_FORMS", 3):
            made = self.judged(pages)
        self.assertEqual([row[3] for row in self.rows(made)], [f"{OLD}/{at}" for at in range(3)])
        self.assertEqual(made.unseen, ("2 further leftovers of pages, of more forms than are kept",))

    def test_where_no_name_is_old(self):
        made = CHECK.judge(Looked(Side((f"{NEW}/",)), Side((f"{NEW}/",)), RULE, "Palinode"))
        self.assertEqual((len(made.rows), made.unseen), (0, ("leftover addresses, since no name is old",)))


def file_answers(files: list[tuple[int, str]], status: int, pages: np.ndarray) -> FileAnswers:
    """Return answers that are no pages."""
    files = sorted(files)
    n = len(files)
    ident = np.array([one for one, _ in files], np.int64)
    nothing = np.zeros(n, np.int64)
    return FileAnswers(
        ident=ident, text=[text for _, text in files], status=np.full(n, status, np.int16), reason=[""] * n,
        media_type=[""] * n, length=nothing, body=nothing, target=nothing, asking=np.zeros(n, np.int32),
        asked_by=lambda _: nothing, pages=pages,
    )  # fmt: skip
