"""A pair through the API: its texts, what it refers to, and its pages as they were stored."""

from palinode.work.stored_page import POLICY
from tests.api.base import ApiTestCase
from tests.site import Answer, page

HOSTILE = (
    "<title>Tide</title><link rel=stylesheet href=/mill.css><link rel=icon href=/i.ico>"
    "<base target=_top><meta http-equiv=refresh content='0;url=http://elsewhere.example/'>"
    "<script>top.location='http://elsewhere.example/'</script><main onclick=steal()><h1>Tide</h1>"
    "<p>=SUM(A1) &lt;script&gt; \u202etxet</p><img src=/mill.png srcset='/big.png 2x' alt=wheel>"
    "<img src=http://elsewhere.example/spy.png><iframe src=/frame></iframe>"
    "<form action=/ask method=post><input name=q></form><a href=/b>to b</a></main>"
)
STYLE = Answer("p{color:red} </style><script>x</script>", headers={"Content-Type": "text/css"})
PNG = Answer("\x89PNG", headers={"Content-Type": "image/png"})


class PairsTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        files = {"/mill.css": STYLE, "/mill.png": PNG}
        left = {"/": page("Home", "/a", "/b"), "/a": Answer(HOSTILE), "/b": page("B")} | files
        changed = (
            HOSTILE.replace("<a href=/b>to b</a>", "<a href=/c>to b</a>").replace("<form", "<div").replace("/ask", "")
        )
        right = {"/": page("Home", "/a", "/b"), "/a": Answer(changed), "/b": page("B")} | files
        self.comparison = self.compared(left, right)
        rows = self.api.get(f"/api/comparisons/{self.comparison.pk}/checks/pages/rows/", {"find": "/a"}).json()["rows"]
        self.path = f"/api/comparisons/{self.comparison.pk}/pages/{rows[0]['rank']}/"

    def test_stored_text_is_read_by_what_its_header_says(self):
        style = Answer(
            "p{content:'Mühle'}".encode("cp1252"), headers={"Content-Type": "text/css; charset=windows-1252"}
        )
        text = "<title>Mühle</title><link rel=stylesheet href=/s.css><p class=d>Øst</p><p>Größe</p>"
        odd = Answer(text.encode("cp850"), headers={"Content-Type": "text/html; charset=cp850"})
        other = Answer(
            text.replace("Øst", "Vest").encode("cp850"), headers={"Content-Type": "text/html; charset=cp850"}
        )
        self.comparison = self.compared(
            {"/": page("Home", "/m"), "/m": odd, "/s.css": style},
            {"/": page("Home", "/m"), "/m": other, "/s.css": style},
        )
        rows = self.api.get(f"/api/comparisons/{self.comparison.pk}/checks/pages/rows/", {"find": "/m"}).json()["rows"]
        self.path = f"/api/comparisons/{self.comparison.pk}/pages/{rows[0]['rank']}/"
        self.assertIn("Größe", self.get("source/").json()["text"])
        shown = self.get("stored/").content.decode()
        self.assertIn("<p>Größe</p>", shown)
        self.assertIn("content:'Mühle'", shown)
        # What stands in a region is taken out of the text as its header says it is written.
        expected = {"what": "region", "selector": ".d"}
        answer = self.api.post(f"/api/comparisons/{self.comparison.pk}/expect/", expected, format="json")
        self.assertEqual(answer.json()["findings"], 1, answer.content)

    def get(self, name="", **query):
        return self.api.get(f"{self.path}{name}", query)

    def test_the_fields_say_which_findings_they_are(self):
        found = {row["name"]: (row["kind"], row["verdict"]) for row in self.get().json()["fields"]}
        self.assertEqual(found["title"], ("title", "same"))
        self.assertEqual(found["forms"], ("forms", "differs"))
        self.assertEqual(found["structured data"][0], "structured")

    def test_what_both_refer_to(self):
        found = self.get("references/").json()
        told = {(one["group"], one["verdict"]) for one in found["references"]}
        self.assertIn(("link", "other target"), told)
        self.assertIn(("style", "as mapped"), told)
        self.assertIn(("image", "as mapped"), told)
        (form,) = found["forms"]
        self.assertEqual((form["verdict"], form["right"]), ("missing", None))
        self.assertEqual(form["left"]["label"], "post q")

    def test_what_became_of_the_files_that_it_shows_is_as_the_check_of_files_says(self):
        files = {"/mill.css": STYLE, "/mill.png": PNG}
        left = {"/": page("Home", "/a"), "/a": Answer(HOSTILE)} | files
        right = {"/": page("Home", "/a"), "/a": Answer(HOSTILE.replace("Mill", "Barn"))} | {"/mill.css": STYLE}
        comparison = self.compared(left, right)
        rows = self.api.get(f"/api/comparisons/{comparison.pk}/checks/pages/rows/", {"find": "/a"}).json()["rows"]
        self.path = f"/api/comparisons/{comparison.pk}/pages/{rows[0]['rank']}/"
        found = {(one["group"], one["left"]["address"]): one for one in self.get("references/").json()["references"] if one["left"]}  # fmt: skip
        image = found["image", "http://old.example/mill.png"]
        self.assertEqual(image["file"], {"verdict": "lost", "label": "Lost", "said": "not found"})
        self.assertEqual((image["verdict"], image["differs"]), ("as mapped", True))
        style = found["style", "http://old.example/mill.css"]
        self.assertEqual((style["file"], style["differs"]), (None, False))

    def test_a_stretch_of_what_is_the_same(self):
        self.assertEqual(self.get("stretch/", first=0, rows=1).json()[0]["left"][0]["text"], "Tide")
        self.assertEqual(self.get("stretch/", first=10**9).json(), [])
        self.assertEqual(self.get("stretch/", first="x").status_code, 400)

    def test_the_source_is_text_and_says_what_is_missing(self):
        found = self.get("source/", side="left").json()
        self.assertEqual((found["text"], found["cut"]), (HOSTILE, False))
        self.assertIn("application/json", self.get("source/", side="left").headers["content-type"])
        self.assertEqual(self.get("source/", side="up").status_code, 400)

    def test_the_stored_page_can_do_nothing(self):
        answer = self.get("stored/", side="left")
        self.assertEqual(answer.headers["content-security-policy"], POLICY)
        self.assertTrue(POLICY.startswith("sandbox; default-src 'none'"))
        self.assertEqual(answer.headers["x-frame-options"], "SAMEORIGIN")
        text = answer.content.decode()
        for active in ("<script>top", "<iframe", "<base", "http-equiv", "<link", "srcset"):
            self.assertNotIn(active, text)
        self.assertIn("data:image/png;base64,", text)
        self.assertIn("<style>p{color:red} <\\/style>", text, "a style sheet cannot end its element")

    def test_other_rows_are_not_there(self):
        self.path = f"/api/comparisons/{self.comparison.pk}/pages/999/"
        for name in ("", "references/", "stretch/", "source/", "stored/"):
            self.assertEqual(self.get(name, side="left").status_code, 404, name)

    def test_accept_all_on_one_page(self):
        rank = int(self.path.rstrip("/").rpartition("/")[2])
        findings = f"/api/comparisons/{self.comparison.pk}/findings/"
        on_it = self.api.get(findings, {"row": rank, "state": "open"}).json()["total"]
        self.assertGreater(on_it, 1)
        body = {"rows": [rank], "reason": "as agreed"}
        given = self.api.post(f"/api/comparisons/{self.comparison.pk}/accept/", body, format="json")
        self.assertEqual((given.status_code, given.json()["findings"]), (201, on_it))
