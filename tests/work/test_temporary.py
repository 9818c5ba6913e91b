"""A copy that is reached under a temporary address until the switch."""

from types import SimpleNamespace

from palinode.records import address_mentions
from palinode.records.models import Move
from palinode.work import move_setup
from palinode.work.comparing import pair_view
from tests.rows import counts, pages
from tests.site import Answer as Served
from tests.site import page
from tests.work.base import MoveTestCase

FINAL, STAGE = "http://mill.example", "http://stage.example/~mill"


class TemporaryTest(MoveTestCase):
    def moved(self, new: dict[str, Served]) -> Move:
        links = ["/a", "/b", "/c", "/shop/x"]
        pages = {"/": page("Home", *links), **{path: page(path, "/", text=path) for path in links}}
        old, stage = self.serve(pages, new)
        self.stage = stage
        move = move_setup.describe(
            "Mill",
            move_setup.typed_side("http://old.example/", f"127.0.0.1:{old.port}"),
            move_setup.typed_side(f"{FINAL}/", f"127.0.0.1:{stage.port}"),
            ["/shop/ -> /store/", f"{FINAL}/ at {STAGE}/"],
            self.user,
        )
        self.baseline(move)
        return Move.objects.get(pk=move.pk)

    def rows(self, move: Move) -> dict[str, SimpleNamespace]:
        capture = self.capture(move, "destination")
        self.comparison = self.compare(move, capture)
        return {row.left_address.split(".example")[1]: row for row in pages(self.comparison) if row.left_address}

    def test_neither_form_is_a_difference(self):
        links = ["/a", "/b", "/c", "/store/x"]
        rows = self.rows(
            self.moved(
                {
                    # Named by its temporary form, its final form, and by path.
                    "/~mill/": page("Home", *(f"{STAGE}{link}" for link in links)).altered(
                        *((f">{STAGE}/store/x<", ">/shop/x<"), *((f">{STAGE}{one}<", f">{one}<") for one in links))
                    ),
                    "/~mill/a": page("/a", f"{FINAL}/", text="/a").altered((f">{FINAL}/<", ">/<")),
                    "/~mill/b": page("/b", "/~mill/", text="/b").altered((">/~mill/<", ">/<")),
                    "/~mill/c": page("/c", "/~mill/", text="/c changed").altered((">/~mill/<", ">/<")),
                    "/~mill/store/x": page("/shop/x", "/~mill/", text="/shop/x").altered((">/~mill/<", ">/<")),
                }
            )
        )
        self.assertEqual(
            {path: row.detail for path, row in rows.items() if row.content_change}, {"/c": rows["/c"].detail}
        )
        self.assertEqual(rows["/shop/x"].right_address, f"{FINAL}/store/x", "told in its final form")
        self.assertEqual(sum(number for _, _, number in counts(self.comparison)), 5, "none of them is new")
        named = {
            form: {
                (one.address.removeprefix(STAGE), one.times)
                for one in address_mentions.pages(self.comparison.right, [folder])
            }
            for form, folder in [("temporary", f"{STAGE}/"), ("final", f"{FINAL}/")]
        }
        self.assertEqual(named, {"temporary": {("/", 4)}, "final": {("/a", 1)}})
        opened = pair_view.pair(self.comparison, rows["/shop/x"])
        self.assertEqual((opened["right"]["status"], opened["right"]["address"]), (200, f"{STAGE}/store/x"))
        self.assertNotIn("/a", [path for path in self.stage.asked if not path.startswith("/~mill")])

    def test_a_redirect_to_the_final_name_leads_away(self):
        rows = self.rows(
            self.moved(
                {
                    "/~mill/": page("Home", "/~mill/a"),
                    "/~mill/a": Served(status=301, headers={"Location": f"{FINAL}/a"}),
                }
            )
        )
        self.assertEqual(rows["/a"].detail, "not judged: redirected to where the capture did not ask")

    def test_a_copy_that_writes_only_final_addresses_is_captured_whole(self):
        listed = f"<urlset><url><loc>{FINAL}/only-listed</loc></url></urlset>"
        move = self.moved(
            {
                "/~mill/": page(
                    "Home", f"{FINAL}/deep", f"{FINAL}/away", head=f'<link rel=stylesheet href="{FINAL}/s.css">'
                ),
                "/~mill/deep": page("Deep", f"{FINAL}/deeper").altered(
                    (f">{FINAL}/deeper<", f'><img src="{FINAL}/a.png" alt=A><')
                ),
                "/~mill/deeper": page("Deeper"),
                "/~mill/away": Served(status=301, headers={"Location": f"{FINAL}/there"}),
                "/~mill/there": page("There"),
                "/~mill/only-listed": page("Listed"),
                "/~mill/s.css": Served(f"a{{background:url({FINAL}/b.png)}}", headers={"Content-Type": "text/css"}),
                "/~mill/a.png": Served("x", headers={"Content-Type": "image/png"}),
                "/~mill/b.png": Served("y", headers={"Content-Type": "image/png"}),
                "/robots.txt": Served(f"Sitemap: {FINAL}/map.xml", headers={"Content-Type": "text/plain"}),
                "/~mill/map.xml": Served(listed, headers={"Content-Type": "application/xml"}),
            }
        )
        capture = self.capture(move, "destination")
        paths = {path for path, (status, *_) in self.inventory(capture).items() if status in (200, 301)}
        expected = [
            "/",
            "/deep",
            "/deeper",
            "/away",
            "/there",
            "/only-listed",
            "/s.css",
            "/a.png",
            "/b.png",
            "/map.xml",
        ]
        self.assertLessEqual({f"/~mill{path}" for path in expected}, paths)
