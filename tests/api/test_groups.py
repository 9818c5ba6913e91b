"""Pages in groups, and the pages of one group: by section, by cause, by template."""

from tests.api.base import ApiTestCase
from tests.site import Answer, page


def with_footer(title: str, footer: str) -> Answer:
    return Answer(f"<title>{title}</title><main><h1>{title}</h1></main><footer><p>{footer}</p></footer>")


class GroupsTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        left = {"/": page("Home", "/shop/1", "/shop/2", "/shop/3", "/j/1", "/j/2", "/j/3")}
        left |= {f"/shop/{n}": with_footer(f"Goods {n}", "The shop") for n in (1, 2, 3)}
        left |= {f"/j/{n}": with_footer(f"Tide {n}", "The journal") for n in (1, 2, 3)}
        right = dict(left) | {f"/shop/{n}": Answer(status=404) for n in (1, 2, 3)}
        right["/j/2"] = with_footer("Another", "The journal")
        self.path = f"/api/comparisons/{self.compared(left, right).pk}/"

    def groups(self, by: str) -> dict[str, dict]:
        return {one["name"]: one for one in self.api.get(f"{self.path}checks/pages/groups/", {"by": by}).json()}

    def pages(self, **query) -> list[str]:
        rows = self.api.get(f"{self.path}checks/pages/rows/", query).json()["rows"]
        return [row["left"].split(".example")[1] for row in rows]

    def test_by_section(self):
        found = self.groups("group")
        self.assertEqual(list(found), ["/", "/j", "/shop"])
        self.assertEqual(found["/j"]["verdicts"], {"altered": 1, "kept": 2})
        self.assertEqual(found["/shop"]["rows"], 3)
        self.assertEqual(self.api.get(f"{self.path}checks/pages/groups/", {"by": "moon"}).status_code, 400)

    def test_by_cause_and_its_pages(self):
        found = self.groups("cause")
        lost = found["/shop is not at the destination"]
        self.assertEqual((lost["rows"], lost["verdicts"]), (3, {"lost": 3}))
        self.assertEqual(self.pages(cause=lost["key"]), ["/shop/1", "/shop/2", "/shop/3"])
        self.assertEqual(self.pages(cause=lost["key"], find="/2"), ["/shop/2"])
        self.assertEqual(self.pages(cause=lost["key"], verdict="altered"), [])
        self.assertEqual(self.pages(cause=lost["key"], first=2, rows=5), ["/shop/3"])
        counts = self.api.get(f"{self.path}checks/pages/rows/", {"cause": lost["key"]}).json()["counts"]
        self.assertEqual((counts["lost"], counts["kept"]), (3, 0))
        self.assertEqual(self.pages(cause=999), [])

    def test_by_template_and_its_pages(self):
        found = self.groups("template")
        self.assertEqual([(one["name"], one["rows"]) for one in found.values()][2:], [("in templates of their own", 1)])
        journal = found["like /j/2"]
        self.assertEqual((journal["rows"], journal["verdicts"]), (3, {"altered": 1, "kept": 2}))
        self.assertEqual(self.pages(filter=f"template:{journal['key']}", order="address"), ["/j/1", "/j/2", "/j/3"])
        self.assertEqual(self.pages(filter=f"template:{journal['key']}"), ["/j/2", "/j/1", "/j/3"])
        self.assertEqual(self.pages(filter="template:0"), ["/"])
