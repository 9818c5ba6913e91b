"""A documentation that nobody here wrote, as a site: moved into a new theme of plain boxes, with known changes."""

import random
import re
from pathlib import Path
from urllib.parse import unquote, urljoin

from selectolax.lexbor import LexborHTMLParser

from tests.rows import pages, rows
from tests.site import Answer
from tests.work.base import MoveTestCase

FILES = Path("/usr/share/doc/apache2-doc/manual/en")
MEDIA = {"html": "text/html; charset=utf-8", "css": "text/css", "gif": "image/gif", "png": "image/png"}
BEFORE = (
    '<div class="wrap"><div class="notice">We have moved house. Tell us what is missing.</div><div class="menu">'
    '<a href="/index.html">Start</a> <a href="/mod/index.html">Modules</a></div><div class="body">'
)
AFTER = '</div><div class="foot">Made with care since 1638</div></div></body>'
_PARAGRAPH = re.compile(r"<p>[^<]{40,}")


def themed(markup: str) -> str:
    """Return a page in the new theme."""
    markup = re.sub(r"<body[^>]*>", lambda found: found[0] + BEFORE, markup, count=1)
    return markup.replace("</body>", AFTER)


class DocumentationTest(MoveTestCase):
    def site(self) -> dict[str, Answer]:
        found = {}
        for file in sorted(FILES.rglob("*")):
            if file.is_file():
                name = str(file.relative_to(FILES)).removesuffix(".en")
                media = MEDIA.get(name.rpartition(".")[2], "application/octet-stream")
                found[f"/{name}"] = Answer(file.read_bytes(), headers={"Content-Type": media})
        return found | {"/": found["/index.html"]}

    def test_every_known_change_and_none_besides(self):
        left = self.site()
        draw = random.Random(5)
        written = sorted(path for path in left if path.endswith(".html") and path != "/index.html")
        changed = [path for path in written if _PARAGRAPH.search(left[path].body.decode())]
        draw.shuffle(changed)
        lost, moved, altered = set(changed[:8]), set(changed[8:38]), set(changed[38:110])
        right: dict[str, Answer] = {}
        for path, answer in left.items():
            markup = (
                answer.body.decode("utf-8", "replace") if answer.headers["Content-Type"].startswith("text/html") else ""
            )
            if path in altered:
                markup = _PARAGRAPH.sub(
                    "<p>This paragraph was written anew by somebody else, who meant well", markup, count=1
                )
            at = path.replace(".html", "-page.html") if path in moved else path
            if path not in lost:
                right[at] = Answer(themed(markup).encode() if markup else answer.body, headers=answer.headers)
        # What the source did not know of, the destination knows by its list.
        listed = "".join(f"<url><loc>http://new.example{path}</loc></url>" for path in right if path.endswith(".html"))
        right["/sitemap.xml"] = Answer(f"<urlset>{listed}</urlset>", headers={"Content-Type": "application/xml"})
        move = self.move(*self.serve(left, right))
        self.baseline(move)
        made = self.compare(move, self.capture(move, "destination"))
        rows = {row.left_address.split(".example")[1]: row for row in pages(made) if row.left_address}
        self.assertEqual({path for path, row in rows.items() if row.fate == "lost"}, lost & set(rows))
        self.assertEqual(
            {path: row.right_address.split(".example")[1] for path, row in rows.items() if row.fate == "moved"},
            {path: path.replace(".html", "-page.html") for path in moved & set(rows)},
        )
        self.assertEqual({path for path, row in rows.items() if row.fate == "altered"}, altered & set(rows))
        # Some pages of it are linked from nowhere, and stand in the sitemap alone.
        new = {row.right_address.split(".example")[1] for row in pages(made) if row.fate == "new"}
        self.assertEqual(new & set(rows), set())
        self.assertLessEqual(len(new), 5)
        self.assertGreater(len(rows), 240)

    def linked(self, site: dict[str, Answer]) -> dict[str, set[str]]:
        """Return what each page links, told by another reader than ours: path, with the fragment if it has one."""
        found: dict[str, set[str]] = {}
        for path, answer in site.items():
            if path.endswith(".html"):
                tree = LexborHTMLParser(answer.body.decode("utf-8", "replace"))
                written = (node.attributes.get("href") or "" for node in tree.css("a[href]"))
                found[path] = {urljoin(path, one.strip()) for one in written if not re.match(r"[a-z]+:", one, re.I)}
        return found

    def test_links_and_anchors_that_are_gone_and_no_others(self):
        left, draw = self.site(), random.Random(8)
        linked = self.linked(left)
        known = {one for links in linked.values() for one in links}
        places = sorted({one for one in known if one.partition("#")[2] and one.partition("#")[0] in linked})
        there = []
        for one in places:
            path, _, fragment = one.partition("#")
            if f'id="{fragment}"' in left[path].body.decode("utf-8", "replace"):
                there.append(one)
        draw.shuffle(there)
        gone = set(there[:25])
        targets = sorted({one.partition("#")[0] for one in known} & set(left) - {"/index.html"})
        draw.shuffle(targets)
        lost = set(targets[:6])
        gone = {one for one in gone if one.partition("#")[0] not in lost}
        right = {path: answer for path, answer in left.items() if path not in lost}
        for one in gone:
            path, _, fragment = one.partition("#")
            body = right[path].body.decode("utf-8", "replace")
            body = re.sub(rf"(id|name)=\"{re.escape(fragment)}\"", r'\1="elsewhere"', body)
            right[path] = Answer(body.encode(), headers=right[path].headers)
        move = self.move(*self.serve(left, right))
        self.baseline(move)
        made = self.compare(move, self.capture(move, "destination"))
        broken = {row["right"] for row in rows(made, "links") if row["verdict"] == "broken"}
        served = {path: links for path, links in linked.items() if path not in lost}
        still = {one for links in served.values() for one in links}
        reached = {row.left_address.split(".example")[1] for row in pages(made) if row.left_address}
        expected = {unquote(one) for one in gone & still if one.partition("#")[0] in reached}
        self.assertEqual({one for one in broken if "#" in one}, expected)
        self.assertGreater(len(expected), 15)
        self.assertEqual({one for one in broken if "#" not in one}, lost & {one.partition("#")[0] for one in still})
