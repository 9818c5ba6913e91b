"""Pages asked again as a capture ends."""

import itertools

from palinode.core.volatile import Volatile
from palinode.work.comparing import pair_view
from tests.rows import counts, pages
from tests.site import Answer, page
from tests.work.base import MoveTestCase

PATHS = ("/a", "/b", "/c", "/d")


class SamplingTest(MoveTestCase):
    def captured(self, old, which: str = "source", new=None):
        sites = self.serve(old, new or {})
        self.sites = sites
        self.subject = self.move(*sites)
        return self.capture(self.subject, which, sample=10)

    def grounds(self, capture) -> str:
        return " ".join(one["text"] for one in capture.judgement["grounds"])

    def test_a_steady_site(self):
        capture = self.captured({"/": page("Home", *PATHS), **{path: page(path) for path in PATHS}})
        self.assertEqual({name: capture.sample[name] for name in ("asked", "gone", "changed", "older")}, {"asked": 5, "gone": 0, "changed": 0, "older": 0})  # fmt: skip
        self.assertFalse(Volatile.read(capture.sample["volatile"]))
        self.assertTrue(capture.judgement["stands"])
        self.assertEqual(self.sites[0].asked.count("/a"), 3)

    def test_what_is_volatile_is_no_difference_and_is_shown(self):
        tick = itertools.count(10)

        def ticking(path: str) -> Answer | None:
            path = path.partition("?")[0]
            return page("Home", *PATHS, text=f"Served as number {next(tick)} of today") if path == "/" else (
                page(path, text=f"{'Altered' if path == '/d' and self.later else 'Still'} words; served as number {next(tick)} of today") if path in PATHS else None
            )  # fmt: skip

        self.later = False
        capture = self.captured(ticking, new=ticking)
        self.assertEqual(capture.sample["changed"], 0, capture.sample)
        self.assertIn("change from one asking to the next", self.grounds(capture))
        self.subject.baseline = capture
        self.subject.save()
        self.later = True
        comparison = self.compare(self.subject, self.capture(self.subject, "destination"))
        fates = {
            fate: sum(number for one, _, number in counts(comparison) if one == fate) for fate in ("kept", "altered")
        }
        self.assertEqual(fates, {"kept": 4, "altered": 1})
        row = next(iter(comparison_rows(comparison, "/d")))
        said = pair_view.pair(comparison, row)["paragraphs"]
        self.assertNotRegex(str(said), r"number \d+")

    def test_a_cache_with_an_older_copy(self):
        def cached(path: str) -> Answer | None:
            path, fresh = path.partition("?fresh=")[::2]
            if path not in ("/", *PATHS):
                return None
            if fresh:
                return page(path, *PATHS, text="The new words")
            old = page(path, *PATHS, text="The old words")
            return Answer(old.body, headers={"Age": "7200", "Cache-Control": "max-age=86400"})

        capture = self.captured(cached)
        self.assertEqual((capture.sample["older"], capture.sample["age"], capture.sample["keeps"]), (5, 7200, 86400))
        said = "A cache or proxy stands in front with an older copy: 5 of 5 pages asked again at the end are another one past it (up to 2 hours old, kept up to one day)"
        self.assertIn(said, self.grounds(capture))
        self.assertFalse(capture.judgement["stands"])
        sent = [head.get("Cache-Control") for path, head in zip(self.sites[0].asked, self.sites[0].headers, strict=True) if "fresh=" in path]  # fmt: skip
        self.assertEqual(set(sent), {"no-cache"})

    def test_what_changed_meanwhile(self):
        asked: dict[str, int] = {}

        def changing(path: str) -> Answer | None:
            path = path.partition("?")[0]
            if path not in ("/", *PATHS):
                return None
            asked[path] = asked.get(path, 0) + 1
            return page(path, *PATHS, text="Before" if asked[path] == 1 else "Afterwards it says more")

        capture = self.captured(changing)
        self.assertEqual(capture.sample["changed"], 5)
        self.assertIn("5 of 5 pages asked again at the end had changed since", self.grounds(capture))


def comparison_rows(comparison, path: str):
    return [one for one in pages(comparison) if (one.left_address or "").endswith(path)]
