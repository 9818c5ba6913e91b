"""Templates and files over two captures: one finding each, on a number of pages."""

import random

from tests.rows import told
from tests.site import Answer, page
from tests.work.base import MoveTestCase


class TemplatesTest(MoveTestCase):
    def findings(self, left, right):
        old, new = self.serve(left, right)
        move = self.move(old, new)
        self.baseline(move)
        comparison = self.compare(move, self.capture(move, "destination"))
        return comparison, [(one.detail, one.pages, one.row) for one in told(comparison)]

    def soup(self, shop: str, path: str, changed: int = -1):
        """Pages in plain boxes: no element says what is menu and what is text."""

        def one(n: int) -> Answer:
            links = "".join(f'<a href="/{m}">page {m}</a> ' for m in range(20)) if n == 0 else ""
            text = "another text" if n == changed else f"text of {n}"
            menu = f'<div><a href="/">Home</a></div><div><a href="{path}">{shop}</a></div>'
            return Answer(f"<title>{n}</title><div>{menu}</div><div><h1>Page {n}</h1><p>{text}</p>{links}</div>")

        return {"/": one(0)} | {f"/{n}": one(n) for n in range(1, 20)} | {path: one(20)}

    def test_a_menu_in_plain_boxes_is_no_change_of_every_page(self):
        left = self.soup("Shop", "/shop")
        right = self.soup("Boutique", "/shop", changed=7)
        comparison, found = self.findings(left, right)
        self.assertEqual(comparison.standing["summary"], "20 kept, 1 altered.")
        self.assertIn(("“Shop” became “Boutique”", 21, None), found)
        self.assertEqual(len([one for one in found if one[2] is not None]), 1, "the page that did change")

    def test_a_file_that_pages_ask_for(self):
        def site(*files: str):
            head = "<link rel=stylesheet href=/mill.css>"
            pages = {"/": page("Home", "/a", head=head), "/a": page("A", text='<img src="/wheel.png">', head=head)}
            media = {"/mill.css": "text/css", "/wheel.png": "image/png"}
            return pages | {one: Answer("x", headers={"Content-Type": media[one]}) for one in files}

        comparison, found = self.findings(site("/mill.css", "/wheel.png"), site())
        self.assertEqual([one[:2] for one in found], [("not found", 2), ("not found", 1)])
        kinds = [(one["kind"], one["weight"]) for one in comparison.standing["causes"]]
        self.assertEqual(kinds, [("styles_missing", "blocks"), ("files_missing", "mend")])
        self.assertEqual(comparison.standing["summary"], "2 kept.")

    def test_the_same_finding_in_the_next_round_and_cleared(self):
        left = {"/": page("Home", "/a"), "/a": page("A")}
        footer = "<footer><p>{}</p></footer>"
        left = {path: Answer(str(one.body) + footer.format("The mill")) for path, one in left.items()}
        right = {path: Answer(str(one.body).replace("The mill", "My site")) for path, one in left.items()}
        old, new = self.serve(left, right)
        move = self.move(old, new)
        self.baseline(move)
        first = self.compare(move, self.capture(move, "destination"))
        second = self.compare(move, self.capture(move, "destination"))
        keys = [told(one)[0].key for one in (first, second)]
        self.assertEqual(keys[0], keys[1])
        self.assertFalse(told(second)[0].fresh)
        right.update(left)
        third = self.compare(move, self.capture(move, "destination"))
        self.assertEqual(third.standing["since"]["cleared"], 1)


class UnsureTest(MoveTestCase):
    def test_a_round_that_could_not_be_judged_clears_nothing_of_the_template(self):
        left = {"/": page("Home", "/a"), "/a": page("A")}
        left = {path: Answer(f"{one.body}<footer><p>The mill</p></footer>") for path, one in left.items()}
        right = {path: Answer(str(one.body).replace("The mill", "My site")) for path, one in left.items()}
        whole = dict(right)
        old, new = self.serve(left, right)
        move = self.move(old, new)
        self.baseline(move)
        first = self.compare(move, self.capture(move, "destination"))
        right.update({path: Answer(status=503) for path in whole})
        second = self.compare(move, self.capture(move, "destination"))
        key = told(first)[0].key
        self.assertEqual(next(one for one in told(second) if one.key == key).state, "open")
        right.update(whole)
        third = self.compare(move, self.capture(move, "destination"))
        found = next(one for one in told(third) if one.key == key)
        self.assertEqual((found.state, found.returned), ("open", False))


class LaterTest(MoveTestCase):
    def test_what_a_later_capture_of_the_source_explains(self):
        left = {"/": page("Home", "/a", "/b"), "/a": page("A"), "/b": page("B")}
        right = {"/": page("Home", "/a", "/b", "/n"), "/a": page("A", text="written since"), "/n": page("New")}
        old, new = self.serve(left, right)
        move = self.move(old, new)
        self.baseline(move)
        destination = self.capture(move, "destination")
        first = self.compare(move, destination)
        self.assertNotIn("source_changed", [one["kind"] for one in first.standing["causes"]])
        left.update(right | {"/b": Answer(status=404)})
        self.capture(move, "source")
        second = self.compare(move, destination)
        causes = {one["kind"]: one["rows"] for one in second.standing["causes"]}
        self.assertEqual(causes.get("source_changed"), 4, causes)


class PartsTest(MoveTestCase):
    def test_merged_and_split_pages_are_said_as_such(self):
        draw = random.Random(3)
        a, b, c, d = (" ".join(f"w{draw.randrange(9_999)}" for _ in range(60)) for _ in range(4))
        left = {"/": page("Home", "/a", "/b", "/guide"), "/a": page("A", text=a), "/b": page("B", text=b)}
        left["/guide"] = page("Guide", text=f"{c} {d} and more of it")
        right = {"/": page("Home", "/a", "/guide", "/guide/2", "/guide/3")}
        right |= {"/a": page("A", text=f"{a} {b}"), "/guide": page("Guide", text="and more of it")}
        right |= {"/guide/2": page("Two", text=c), "/guide/3": page("Three", text=d), "/b": Answer(status=404)}
        old, new = self.serve(left, right)
        move = self.move(old, new)
        self.baseline(move)
        comparison = self.compare(move, self.capture(move, "destination"))
        details = {one.detail: one.kind for one in told(comparison)}
        self.assertIn("not found; its text stands in /a", details)
        self.assertIn("part of what was /guide", details)
        kinds = {one["kind"]: one["findings"] for one in comparison.standing["causes"]}
        self.assertEqual((kinds["merged_by_text"], kinds["page_split"]), (1, 2))
