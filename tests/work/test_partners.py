"""Pairs of captured sites: one page under several addresses, addresses inside addresses, the other scheme, stand-ins."""

from types import SimpleNamespace

from palinode.records import decisions
from tests.rows import pages
from tests.site import Answer, page
from tests.work.base import MoveTestCase

LONG = "The wheel turns on every tide, and the stones are dressed in the week after the neaps, when there is time"


def written(title: str, body: str) -> Answer:
    return Answer(f"<!doctype html><title>{title}</title><main><h1>{title}</h1><p>{LONG}, {title}.</p>{body}</main>")


class PartnersTest(MoveTestCase):
    def rows(self, old: dict[str, Answer], new: dict[str, Answer]) -> dict[str, SimpleNamespace]:
        move = self.move(*self.serve(old, new))
        self.baseline(move)
        self.made = self.compare(move, self.capture(move, "destination"))
        return {(row.left_address or row.right_address).split(".example", 1)[1]: row for row in pages(self.made)}

    def test_a_page_under_several_addresses_shares_its_partner(self):
        flour = written("Flour", "")
        old = {"/": page("Home", "/a", "/a?print=1", "/b"), "/a": flour, "/a?print=1": flour, "/b": written("Rye", "")}
        new = {"/": page("Home", "/a", "/b", "/a/index.html"), "/a": flour, "/b": old["/b"], "/a/index.html": flour}
        rows = self.rows(old, new)
        self.assertEqual((rows["/a"].fate, rows["/b"].fate), ("kept", "kept"))
        self.assertEqual((rows["/a?print=1"].fate, rows["/a?print=1"].right_address), ("moved", "http://new.example/a"))
        self.assertNotIn("/a/index.html", rows)

    def test_what_a_person_parted_is_not_paired_again_under_another_address(self):
        flour = written("Flour", "")
        old = {"/": page("Home", "/a", "/a?print=1"), "/a": flour, "/a?print=1": flour}
        self.assertEqual(self.rows(old, {"/": old["/"], "/a": flour})["/a?print=1"].fate, "moved")
        move = self.made.move
        scope = {"left": "http://old.example/a?print=1", "right": "http://new.example/a"}
        decisions.decide(move, "part", scope, "not the same", self.user)
        again = self.compare(move, self.made.right)
        row = next(one for one in pages(again) if (one.left_address or "").endswith("print=1"))
        self.assertNotEqual(row.right_address, "http://new.example/a")

    def test_share_links_and_the_other_scheme_are_no_difference(self):
        def site(host: str, own: str) -> dict[str, Answer]:
            inner = f"http%3A%2F%2F{host}%2Fa"
            links = f'<p><a href="https://share.example/?u={inner}">share</a> <a href="{own}/b">b</a></p>'
            return {"/": page("Home", "/a", "/b"), "/a": written("Flour", links), "/b": written("Rye", "")}

        rows = self.rows(site("old.example", "http://old.example"), site("new.example", "https://new.example"))
        self.assertEqual({path: row.detail for path, row in rows.items() if row.fate != "kept"}, {})
        # What still names the old one inside is a difference.
        rows = self.rows(site("old.example", "http://old.example"), site("old.example", "http://new.example"))
        self.assertEqual([path for path, row in rows.items() if row.fate != "kept"], ["/a"])

    def test_the_home_page_in_place_of_a_page_whatever_its_query(self):
        home = written("Mill", "".join(f'<a href="/?id={n}">{n}</a>' for n in range(1, 8)))
        old = {"/": home} | {f"/?id={n}": written(f"Room {n}", "") for n in range(1, 8)}
        rows = self.rows(old, dict.fromkeys(old, home))
        for n in range(1, 8):
            self.assertEqual((rows[f"/?id={n}"].fate, rows[f"/?id={n}"].detail), ("lost", "the home page instead"))

    def test_an_error_page_is_known_by_what_it_says(self):
        broken = Answer(
            "<title>Database Error</title><h1>Error establishing a database connection</h1>", 503, {"Retry-After": "0"}
        )
        old = {"/": page("Home", "/a", "/b"), "/a": written("Flour", ""), "/b": written("Rye", "")}
        rows = self.rows(old, {"/": old["/"], "/a": broken, "/b": old["/b"]})
        self.assertEqual(
            (rows["/a"].fate, rows["/a"].detail), ("unknown", "not judged: a database that cannot be reached instead")
        )
        self.assertEqual([one["kind"] for one in self.made.standing["causes"]], ["recognised_database"])
