"""The pages that a finding or a row stands for are listed as rows of the check of pages."""

from palinode.records import decisions
from palinode.records.models import ComparisonCheck
from tests.api.base import ApiTestCase
from tests.site import Answer, page

PATHS = ["/", *(f"/n{number:02}" for number in range(12))]


def site(footer: str, shut: str) -> dict[str, Answer]:
    pages = {path: page(f"Page {path}", *PATHS, text=f"text of {path}") for path in PATHS}
    told = {path: Answer(one.body.replace("</main>", f"</main><footer><p>{footer}</p></footer>")) for path, one in pages.items()}  # fmt: skip
    robots = Answer(f"User-agent: *\nDisallow: {shut}\n", headers={"Content-Type": "text/plain"})
    return told | {"/robots.txt": robots}


class PageSetsTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        old, new = self.serve(site("The mill", ""), site("My new site", "/n0"))
        self.subject = self.move(old, new)
        self.baseline(self.subject)
        decisions.decide(self.subject, "override", {"side": "destination", "what": "robots"}, "staging", self.user)
        self.comparison = self.compare(self.subject, self.capture(self.subject, "destination"))
        self.path = f"/api/comparisons/{self.comparison.pk}/"

    def get(self, path: str, **query) -> dict:
        response = self.api.get(f"{self.path}{path}", query)
        self.assertEqual(response.status_code, 200, response.content)
        return response.json()

    def finding(self, kind: str) -> dict:
        (found,) = self.get("findings/", kind=kind)["rows"]
        return found

    def test_what_many_pages_share_lists_them_by_address(self):
        one = self.finding("template_text")
        self.assertEqual((one["pages"], one["listed"], one["row"]), (13, True, None))
        shown = self.get(f"findings/{one['number']}/")
        self.assertEqual({name: shown[name] for name in one}, one)
        self.assertEqual(sum(some["pages"] for some in shown["sections"]), 13)
        pages = self.get(f"findings/{one['number']}/pages/")
        self.assertEqual((pages["total"], pages["rows"]), (13, []))
        self.assertEqual([row["left"].removeprefix("http://old.example") for row in pages["pages"]], PATHS)
        ledger = {row["rank"]: row for row in self.get("checks/pages/rows/")["rows"]}
        for row in pages["pages"]:
            self.assertEqual(row, ledger[row["rank"]])
        some = self.get(f"findings/{one['number']}/pages/", first=11, rows=5)
        self.assertEqual(some["pages"], pages["pages"][11:])

    def test_a_row_and_its_finding_list_the_same_pages(self):
        one = self.finding("shut_out")
        of_row = self.get(f"checks/robots/rows/{one['row']}/items/")
        self.assertEqual(of_row, self.get(f"findings/{one['number']}/pages/"))
        self.assertEqual([row["left"][-4:] for row in of_row["pages"]], PATHS[1:11])

    def test_one_that_lists_none_says_so(self):
        self.get("findings/0/")
        listed = [row for row in self.get("findings/")["rows"] if not row["listed"]]
        for one in listed:
            self.assertEqual(self.get(f"findings/{one['number']}/pages/")["total"], 0)
        self.assertEqual(self.api.get(f"{self.path}findings/999/").status_code, 404)
        self.assertEqual(self.api.get(f"{self.path}findings/999/pages/").status_code, 404)

    def test_rows_of_a_comparison_before_lead_nowhere(self):
        one = self.finding("template_text")
        ComparisonCheck.objects.filter(comparison=self.comparison, outcome__check_name="pages").update(carried=True)
        found = self.get(f"findings/{one['number']}/pages/")
        self.assertEqual((found["total"], {row["rank"] for row in found["pages"]}), (13, {-1}))


class SharedPagesTest(ApiTestCase):
    """What many pages show alike: one finding with its pages, listed by the pair of each, accepted in one act."""

    def setUp(self):
        super().setUp()
        names = [f"/{n}" for n in range(7)]
        left = {"/": page("Home", *names)} | {name: page(f"Page {name}", text=f"text of {name}") for name in names}
        shut = ("</title>", "</title><meta name=robots content=noindex>")
        right = {path: answer.altered(shut) for path, answer in left.items()}
        right["/3"] = page("Page /3", text="other words").altered(shut)
        self.comparison = self.compared(left, right)
        self.path = f"/api/comparisons/{self.comparison.pk}/"

    def get(self, path, **query):
        return self.api.get(f"{self.path}{path}", query).json()

    def test_one_finding_and_the_pages_keep_their_fates(self):
        self.assertEqual(self.comparison.standing["summary"], "7 kept, 1 altered.")
        (one,) = self.get("findings/", kind="noindex")["rows"]
        self.assertEqual((one["pages"], one["listed"], one["row"]), (8, True, None))
        self.assertEqual(self.get(f"findings/{one['number']}/pages/")["total"], 8)
        rows = self.get("checks/pages/rows/")["rows"]
        self.assertEqual({row["numbers"]["shared_change"] for row in rows}, {1 << 3})
        self.assertEqual(self.comparison.standing["causes"][0]["rows"], 8)

    def test_the_pair_of_each_page_lists_it_and_accepting_a_page_leaves_it(self):
        rows = {row["left"].split(".example")[1]: row["rank"] for row in self.get("checks/pages/rows/")["rows"]}
        on_page = self.get("findings/", check="pages", row=rows["/3"])["rows"]
        self.assertEqual(sorted(one["kind"] for one in on_page), ["noindex", "text"])
        body = {"rows": [rows["/3"]], "reason": "rewritten"}
        self.assertEqual(self.api.post(f"{self.path}accept/", body, format="json").json()["findings"], 1)
        self.assertEqual(self.get("findings/", kind="noindex")["states"], {"open": 1})

    def test_it_is_accepted_in_one_act(self):
        (one,) = self.get("findings/", kind="noindex")["rows"]
        body = {"numbers": [one["number"]], "reason": "it is a rehearsal"}
        self.assertEqual(self.api.post(f"{self.path}accept/", body, format="json").status_code, 201)
        self.assertFalse(self.api.get(self.path).json()["standing"]["blocks"])
