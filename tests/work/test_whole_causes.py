"""Causes over whole captures: one thing went wrong on a small site, and that is what is said."""

import re

from tests.site import Answer
from tests.words import WORDS
from tests.work.base import MoveTestCase

OLD, NEW = "http://old.example", "http://new.example"
SECTIONS = ("journal", "shop", "people")
FEW = WORDS[:14]


def text(name: str, number: int) -> str:
    return " ".join(f"{FEW[(number * step + len(name)) % len(FEW)]}{step % 5}" for step in range(1, 40))


def document(name: str, number: int, links: str, main: bool = True, host: str = OLD) -> str:
    opened, closed = ("<main>", "</main>") if main else ("<div>", "</div>")
    menu = "".join(f'<a href="{host}/{section}/">{section}</a> ' for section in SECTIONS)
    return (
        f'<!doctype html><html lang="en"><head><title>{name} {number} – Café</title>'
        f'<link rel="stylesheet" href="{host}/theme/mill.css"><script src="{host}/theme/mill.js"></script></head>'
        f"<body><header><nav>{menu}</nav></header>{opened}<h1>{name} {number}</h1><p>Written on {number % 27 + 1} May 2019."
        f"</p><p>Café naïve — {text(name, number)}</p><p>{text(name + 'x', number + 3)}</p>"
        f'<img src="{host}/uploads/2019/{name}{number % 3}.png" alt="">{links}{closed}'
        "<footer><p>The tide mill, since 1780</p></footer></body></html>"
    )


def site(main: bool = True, host: str = OLD) -> dict[str, Answer]:
    found = {}
    links = "".join(
        f'<a href="{host}/{s}/">{s}</a> <a href="{host}/{s}/{n}">{s} {n}</a> ' for s in SECTIONS for n in range(6)
    )
    found["/"] = Answer(document("home", 0, links, main, host))
    for section in SECTIONS:
        found[f"/{section}/"] = Answer(document(section, 50, "", main, host))
        for n in range(6):
            found[f"/{section}/{n}"] = Answer(document(section, n, "", main, host))
            found[f"/uploads/2019/{section}{n % 3}.png"] = Answer(
                f"png {section}", headers={"Content-Type": "image/png"}
            )
        found[f"/uploads/2019/{section}{50 % 3}.png"] = Answer(f"png {section}", headers={"Content-Type": "image/png"})
    found["/uploads/2019/home0.png"] = Answer("png home", headers={"Content-Type": "image/png"})
    found["/theme/mill.css"] = Answer("p{}", headers={"Content-Type": "text/css"})
    found["/theme/mill.js"] = Answer("1", headers={"Content-Type": "text/javascript"})
    return found


def pages(of: dict[str, Answer]) -> list[str]:
    return [path for path in of if "." not in path]


class WholeCausesTest(MoveTestCase):
    def causes(self, change, lines=(), main: bool = True) -> dict[str, int]:
        """Return the causes of a copy that ``change`` has done something to, with the number of their findings."""
        right = change(site(main, NEW)) or {}
        old, new = self.serve(site(main), right)
        move = self.move(old, new, list(lines))
        self.baseline(move)
        comparison = self.compare(move, self.capture(move, "destination"))
        self.said = comparison.standing
        return {one["kind"]: one["findings"] for one in comparison.standing["causes"]}

    def altered(self, change, only: str = "/", **more) -> dict[str, int]:
        def all_pages(right):
            for path in pages(right):
                if path.startswith(only):
                    right[path] = Answer(change(right[path].body))
            return right

        return self.causes(all_pages, **more)

    def test_nothing_went_wrong(self):
        self.assertEqual(self.causes(lambda right: right), {})
        self.assertEqual(self.causes(lambda right: right, main=False), {})

    def test_characters(self):
        found = self.altered(lambda body: body.encode().decode("cp1252", "replace"))
        self.assertEqual(set(found), {"characters_damaged"})
        found = self.altered(lambda body: re.sub(r"[^\x00-\x7f]", "?", body))
        self.assertEqual(set(found), {"characters_damaged"})

    def test_style_and_images(self):
        def without(right, part):
            return {path: given for path, given in right.items() if part not in path}

        self.assertEqual(set(self.causes(lambda right: without(right, ".css"))), {"styles_missing"})
        self.assertEqual(set(self.causes(lambda right: without(right, "/uploads"))), {"files_missing"})
        self.assertIn("10 files of /uploads/", self.said["causes"][0]["title"])

    def test_links_to_the_old_host(self):
        found = self.altered(lambda body: body.replace(f'href="{NEW}', f'href="{OLD}'))
        self.assertIn("leads_back", found)
        self.assertNotIn("pages_altered", found)

    def test_script_errors_in_the_middle(self):
        error = "<br><b>Warning</b>: Undefined variable $a in <b>/var/www/site/theme.php</b> on line <b>12</b><br>"
        found = self.altered(lambda body: body.replace("<img", f"{error}<img"), only="/shop")
        self.assertEqual(found, {"script_messages": 1}, "one message, on seven pages")

    def test_markers_and_a_part_that_is_gone(self):
        found = self.altered(
            lambda body: body.replace("<img", '<p>[tide-table harbour="quill"]</p><img'), only="/journal"
        )
        self.assertEqual(set(found), {"markers_shown"})

    def test_dates_and_language(self):
        found = self.altered(lambda body: re.sub(r"(\d+) May 2019", r"2019-05-\1", body))
        self.assertEqual(set(found), {"dates_otherwise"})
        found = self.altered(lambda body: body.replace('lang="en"', 'lang="de"'))
        self.assertEqual(set(found), {"language_changed"})

    def test_cut_pages(self):
        found = self.altered(lambda body: body[: body.index("<img") - 60], only="/shop")
        self.assertTrue(set(found) <= {"pages_cut", "recognised_truncated", "template_differs"}, found)

    def test_another_theme(self):
        def theme(body: str) -> str:
            body = body.replace("mill.css", "plain.css").replace("mill.js", "plain.js")
            return body.replace("The tide mill, since 1780", "Proudly powered").replace("<nav>", "<nav><p>Menu</p>")

        def change(right):
            right["/theme/plain.css"], right["/theme/plain.js"] = (
                right.pop("/theme/mill.css"),
                right.pop("/theme/mill.js"),
            )
            for path in pages(right):
                right[path] = Answer(theme(right[path].body))
            return right

        self.assertEqual(set(self.causes(change)), {"theme_differs", "files_moved"})
        # Without elements that say what is main content, a menu that changed changes no page.
        found = self.causes(change, main=False)
        self.assertEqual(set(found), {"theme_differs", "files_moved"})

    def test_a_slash_at_the_end_and_another_case(self):
        def slashes(right):
            for path in pages(right):
                if path[-1] != "/":
                    right[path + "/"] = right[path]
                    right[path] = Answer(status=301, headers={"Location": path + "/"})
            return right

        self.assertEqual(set(self.causes(slashes)), {"slash_policy"})

        def capitals(right):
            for path in pages(right):
                if path.startswith("/shop/") and path != "/shop/":
                    right[path.replace("/shop", "/Shop")] = right.pop(path)
            right["/"] = Answer(right["/"].body.replace("/shop/", "/Shop/"))
            right["/Shop/"] = right["/shop/"]
            return right

        self.assertIn("letter_case", self.causes(capitals))

    def test_one_folder_too_deep(self):
        def deeper(right):
            moved = {
                f"/site{path}": Answer(given.body.replace(f"{NEW}/", f"{NEW}/site/"), headers=given.headers)
                for path, given in right.items()
            }
            moved["/"] = Answer(f'<title>Index</title><main><a href="{NEW}/site/">site</a></main>')
            return moved

        self.assertIn("site_in_folder", self.causes(deeper))

    def test_everything_to_one_page(self):
        def to_one(right):
            for n in range(6):
                right[f"/shop/{n}"] = Answer(status=301, headers={"Location": "/shop/"})
            return right

        self.assertEqual(self.causes(to_one), {"redirects_without_path": 6})

        def home(right):
            for path in pages(right):
                if path != "/":
                    right[path] = Answer(status=302, headers={"Location": "/"})
            return right

        self.assertIn("all_to_home", self.causes(home))

    def test_pages_that_stand_in_for_others(self):
        login = "<title>Log in</title><form method=post><input name=user><input type=password name=pass></form>"
        install = "<title>Setup</title><h1>Welcome</h1><form method=post action=/install.php><input name=db_name><input name=db_user><input type=password name=db_password><input name=table_prefix></form>"
        for body, kind in ((login, "recognised_login"), (install, "recognised_installer")):
            with self.subTest(kind=kind):
                self.assertIn(kind, self.causes(lambda right, body=body: {path: Answer(body) for path in right}))
