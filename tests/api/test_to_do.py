"""To-do lists: what a comparison wants done, for each person who can do it, with the addresses."""

import csv
import io

from asgiref.sync import async_to_sync

from palinode.core.causes.cause_kind import Who
from palinode.core.to_do import COLUMNS
from tests.api.base import ApiTestCase
from tests.site import Answer, page

NAMES = [f"{section}/n{number}" for section in ("shop", "people") for number in range(5)]


class ToDoTest(ApiTestCase):
    """A section is gone, noindex stands on the other, and a page says something else."""

    def setUp(self):
        super().setUp()
        left = {"/": page("Home", *(f"/{name}" for name in NAMES))}
        left |= {f"/{name}": page(f"Page {name}", text=f"text of {name}") for name in NAMES}
        right = {
            path: answer.altered(("</head>", "<meta name=robots content=noindex></head>"))
            for path, answer in left.items()
        }
        right |= {f"/{name}": Answer(status=404) for name in NAMES[:5]}
        right["/people/n0"] = right["/people/n0"].altered(("text of people/n0", "=cmd *other* words"))
        self.comparison = self.compared(left, right)
        self.path = f"/api/comparisons/{self.comparison.pk}/"

    def list_of(self, who="", form="txt"):
        response = self.api.get(f"{self.path}to-do/", {"who": who, "as": form})
        self.assertEqual(response.status_code, 200)

        async def whole():
            return b"".join([part async for part in response.streaming_content]).decode()

        return async_to_sync(whole)()

    def test_each_person_has_a_list_and_together_they_are_all(self):
        titles = {one["title"] for one in self.api.get(self.path).json()["standing"]["causes"]}
        told = {who: self.list_of(who.value) for who in Who}
        self.assertEqual(sum(title in text for text in told.values() for title in titles), len(titles))
        self.assertIn("0 things to do for whoever runs DNS", told[Who.DNS])
        self.assertIn("Nothing to do.", told[Who.DNS])
        self.assertTrue(all(title in self.list_of() for title in titles))

    def test_a_list_has_the_remedy_and_every_address(self):
        told = self.list_of("administrator")
        self.assertIn("Blocks: /shop is not at the destination", told)
        for name in NAMES:
            self.assertIn(f"/{name}", told)
        self.assertIn("noindex", told)
        self.assertEqual(told.count(": noindex"), 6, "one difference, told for each page that shows it")

    def test_as_markdown_and_as_a_table(self):
        text = self.list_of("editor", "md")
        self.assertTrue(text.startswith("# Mill: one thing to do for the editor"))
        self.assertIn("- [ ] http://", text)
        self.assertIn("\\*other\\*", text)
        rows = list(csv.DictReader(io.StringIO(self.list_of("editor", "csv"))))
        self.assertEqual((len(rows), tuple(rows[0])), (1, COLUMNS))
        self.assertFalse([value for row in rows for value in row.values() if value.startswith("=")])
        self.assertIn("/people/n0", rows[0]["source_url"])

    def test_what_is_accepted_is_nobodys_to_do(self):
        body = {"kind": "noindex", "reason": "a rehearsal"}
        self.assertEqual(self.api.post(f"{self.path}accept/", body, format="json").status_code, 201)
        self.assertNotIn("noindex", self.list_of())

    def test_somebody_who_is_not_known_and_somebody_who_may_not(self):
        self.assertEqual(self.api.get(f"{self.path}to-do/", {"who": "nobody"}).status_code, 400)
        self.assertEqual(self.client_of(self.other).get(f"{self.path}to-do/").status_code, 404)

    def test_causes_say_how_certain_they_are_and_who_can_mend_them(self):
        causes = {one["kind"]: one for one in self.api.get(self.path).json()["standing"]["causes"]}
        self.assertEqual(
            (causes["section_lost"]["certainty"], causes["section_lost"]["who"]), ("likely", "administrator")
        )
        self.assertEqual((causes["shut_out"]["certainty"], causes["pages_altered"]["certainty"]), ("shown", "unknown"))
