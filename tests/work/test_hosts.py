"""Sides of several hosts: captured together, each let in by its own credentials, compared host by host."""

from palinode.core.options import OptionError
from palinode.records import answer_rows
from palinode.records.models import Move
from palinode.work import move_setup
from palinode.work.capturing import recapture
from palinode.work.capturing.recapture import AgainError
from palinode.work.move_setup import TypedHost, TypedSide
from tests.rows import page as row
from tests.rows import pages as rows
from tests.site import Answer, page
from tests.work.base import MoveTestCase

SHOP, MEDIA = "http://shop.old.example", "http://media.old.example"
PICTURE = Answer(b"\x89PNG wheel", headers={"Content-Type": "image/png"})


def main(host: str) -> dict[str, Answer]:
    return {
        "/": page(
            "Mill", "/visit", f"http://shop.{host}/rye", text=f'<img src="http://media.{host}/wheel.png">'
        ).altered((f">http://shop.{host}/rye<", ">rye<")),
        "/visit": page("Visit", "/", "http://elsewhere.example/"),
    }


def shop(host: str) -> dict[str, Answer]:
    return {
        "/": page("Shop", "/rye", f"http://{host}/visit").altered((f">http://{host}/visit<", ">visit<")),
        "/rye": page("Rye", "/", text="Stoneground rye, one kilo"),
        "/robots.txt": Answer(f"Sitemap: http://shop.{host}/map.xml", headers={"Content-Type": "text/plain"}),
        "/map.xml": Answer(
            f'<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9"><url><loc>http://shop.{host}/spelt</loc></url>'
            "</urlset>",
            headers={"Content-Type": "application/xml"},
        ),
        "/spelt": page("Spelt", "/", text="Spelt, wholemeal"),
    }


class HostsTest(MoveTestCase):
    def described(self, new_shop: dict[str, Answer], rule: str = "") -> Move:
        self.sites = self.serve(
            main("old.example"), shop("old.example"), {"/wheel.png": PICTURE}, main("new.example"), new_shop
        )
        old, old_shop, media, new, shop_site = self.sites
        lines = {
            site: move_setup.typed_side(base, f"127.0.0.1:{site.port}").connect_to
            for base, site in (
                ("http://old.example/", old), (f"{SHOP}/", old_shop), (f"{MEDIA}/", media),
                ("http://new.example/", new), ("http://shop.new.example/", shop_site),
            )
        }  # fmt: skip
        source = TypedSide(
            "http://old.example/",
            lines[old],
            cookie="main=1",
            further={
                1: TypedHost(f"{SHOP}/", lines[old_shop], cookie="pass=barley"),
                3: TypedHost(f"{MEDIA}/", lines[media]),
            },
        )
        destination = TypedSide(
            "http://new.example/", lines[new], further={1: TypedHost("http://shop.new.example/", lines[shop_site])}
        )
        given = {"name": "Mill", "source": source, "destination": destination} | ({"rule": rule} if rule else {})
        made = move_setup.make(given, self.user)
        return Move.objects.get(pk=made.pk)

    def test_captured_together_each_let_in_by_its_own(self):
        move = self.described(shop("new.example"))
        self.assertEqual(
            move.rule.splitlines(),
            ["http://old.example/ -> http://new.example/", f"{SHOP}/ -> http://shop.new.example/"],
        )
        capture = self.capture(move, "source")
        self.assertEqual(capture.bases, ("http://old.example/", f"{SHOP}/", f"{MEDIA}/"))
        old, old_shop, media, *_ = self.sites
        self.assertTrue({"/", "/visit", "/robots.txt"} <= set(old.asked), old.asked)
        self.assertTrue({"/", "/rye", "/spelt", "/robots.txt", "/map.xml"} <= set(old_shop.asked), "its own sitemap")
        self.assertIn("/wheel.png", media.asked)
        self.assertEqual({one.get("Cookie") for one in old.headers}, {"main=1"})
        self.assertEqual({one.get("Cookie") for one in old_shop.headers}, {"pass=barley"})
        self.assertEqual({one.get("Cookie") for one in media.headers}, {None})
        self.assertEqual(capture.pages, 5)
        self.assertEqual(
            [name for name, _, _ in answer_rows.sections(capture)],
            ["/", "/visit", "shop.old.example/", "shop.old.example/rye", "shop.old.example/spelt"],
        )
        self.assertEqual(answer_rows.counts(capture, "section:shop.old.example/rye")["page"], 1)
        self.assertTrue(capture.judgement["stands"], capture.judgement)

    def test_compared_host_by_host(self):
        there = shop("new.example")
        del there["/map.xml"]
        there["/rye"] = Answer("", 301, {"Location": "/bread/rye"})
        there["/bread/rye"] = page("Rye", "/", text="Stoneground rye, one kilo")
        move = self.described(there)
        self.baseline(move)
        comparison = self.compare(move, self.capture(move, "destination"))
        fates = {one.left_address: (one.fate, one.right_address, one.section) for one in rows(comparison)}
        self.assertEqual(
            fates[f"{SHOP}/spelt"],
            ("kept", "http://shop.new.example/spelt", "shop.old.example/spelt"),
            "though unlinked",
        )
        self.assertEqual(fates["http://old.example/visit"], ("kept", "http://new.example/visit", "/visit"))
        moved = row(comparison, f"{SHOP}/rye")
        self.assertEqual((moved.fate, moved.right_address), ("moved", "http://shop.new.example/bread/rye"))
        bands = {(left, right) for left, right, _, _ in comparison.crossing}
        self.assertIn(("shop.old.example/rye", "shop.new.example/bread"), bands)

    def test_a_line_that_moves_a_page_of_a_further_host(self):
        there = shop("new.example")
        there["/bread/rye"] = there.pop("/rye")
        there["/rye"] = Answer("", 301, {"Location": "/bread/rye"})
        rule = (
            f"http://old.example/ -> http://new.example/\n{SHOP}/rye -> http://shop.new.example/bread/rye\n{SHOP}/ -> "
        )
        move = self.described(there, f"{rule}http://shop.new.example/")
        self.assertEqual(len(move.rule.splitlines()), 3, "the rule names the host already")
        self.baseline(move)
        comparison = self.compare(move, self.capture(move, "destination"))
        self.assertEqual(
            (row(comparison, f"{SHOP}/rye").fate, row(comparison, f"{SHOP}/rye").detail),
            ("moved", "as planned; 301, one hop"),
        )

    def test_a_host_that_gives_nothing_stands_against_the_capture(self):
        move = self.described({})
        capture = self.capture(move, "destination")
        self.assertFalse(capture.judgement["stands"])
        self.assertIn("shop.new.example gave neither a page nor a file", capture.judgement["sentence"])

    def test_some_of_the_hosts(self):
        move = self.described(shop("new.example"))
        capture = self.capture(move, "source", hosts="shop.old.example")
        self.assertEqual(capture.bases, ("http://old.example/", f"{SHOP}/"))
        self.assertEqual(self.sites[2].asked, [])
        self.assertEqual(self.capture(move, "source", hosts="-").bases, ("http://old.example/",))
        with self.assertRaisesMessage(OptionError, "no further host els.example. It has shop.old.example, media.old"):
            self.capture(move, "source", hosts="els.example")
        again = recapture.read(move, "source", capture.pk, "section", f"{SHOP}/rye", "")
        self.assertEqual(again.section, f"{SHOP}/rye")
        move.side("source").further.all().delete()
        with self.assertRaisesMessage(AgainError, "other addresses"):
            recapture.read(Move.objects.get(pk=move.pk), "source", capture.pk, "failed", "", "")
