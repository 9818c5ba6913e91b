"""How many pairs are right of those that pairing gives a certainty, on seeded sites that make it hard.

No time is measured. Pages come in families that differ in a word of twenty-five, most carry the same paragraph, a
part of the paths and titles is made anew, texts are edited, an eighth is deleted, and as many pages are new that were
begun as copies of old ones.
"""

import argparse
import random
import sys
from collections import defaultdict

import numpy as np

from palinode.core import pairing
from palinode.core.pairing import shingles
from palinode.core.pairing.pages import Pages

BANDS = (0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 0.99)
SITES = {
    "mixed": {},
    "paths made anew": {"paths": 0.0, "titles": 0.2},
    "much edited": {"edited": 0.5, "families": 0.2},
    "no families": {"families": 0.0, "shared": 0.2},
    "titles stay": {"titles": 0.0, "paths": 0.0, "edited": 0.6},
    "nearly all families": {"families": 0.95, "paths": 0.3},
    "paths stay": {"paths": 1.0, "titles": 1.0, "edited": 0.8},
    "short pages": {"short": 0.6, "shared": 0.0, "titles": 0.0, "paths": 1.0},
    "numbers become names": {"numbers": 1.0, "titles": 0.0, "paths": 0.0, "families": 0.2},
}
SECTIONS = ("journal", "shop", "recipes", "people", "events", "visit", "about", "help")

Page = tuple[str, str, list[str]]
"""Path, title, words."""


class Site:
    """A seeded site and its copy; the shares say what is made anew there, and what pages have in common."""

    def __init__(
        self,
        seed: int,
        pages: int,
        paths: float = 0.5,
        titles: float = 0.3,
        edited: float = 0.2,
        families: float = 0.5,
        shared: float = 0.6,
        short: float = 0.0,
        numbers: float = 0.2,
    ) -> None:
        self._draw = random.Random(seed)
        self._words = ["".join(self._draw.choices("abcdefghilmnoprstuw", k=3 + n % 6)) for n in range(4_000)]
        self._short, self._numbers = short, numbers
        self._often = [1 / (n + 5) for n in range(len(self._words))]
        same = self._some(150)
        self.left: list[Page] = []
        while len(self.left) < pages:
            self.left += self._family(families, same if self._draw.random() < shared else [])
        self.right: list[Page] = []
        self.truth: dict[int, int] = {}
        for place in self._draw.sample(range(len(self.left)), len(self.left)):
            if self._draw.random() > 1 / 8:
                self.truth[place] = len(self.right)
                self.right.append(self._moved(self.left[place], paths, titles, edited))
        self.right += [self._copied(self._draw.choice(self.left)) for _ in range(len(self.left) // 8)]

    def _some(self, number: int) -> list[str]:
        return self._draw.choices(self._words, self._often, k=number)

    def _edited(self, words: list[str], share: float) -> list[str]:
        words = list(words)
        for _ in range(int(len(words) * share)):
            words[self._draw.randrange(len(words))] = self._draw.choice(self._words)
        return words

    def _family(self, families: float, same: list[str]) -> list[Page]:
        draw = self._draw
        title, text = self._some(4), self._some(draw.choice((15, 40, 120, 400)))
        size = draw.choice((2, 3, 5, 12)) if draw.random() < families else 1
        if self._short and draw.random() < self._short:
            # The page of an image: next to no words, and nothing like it beside it.
            text, size = self._some(draw.choice((4, 8, 12, 25))), 1
        found = []
        for one in range(size):
            path = (
                f"/{draw.choice(SECTIONS)}/{'-'.join(title)}-{one}"
                if draw.random() >= self._numbers
                else f"/{len(self.left) + one}"
            )
            name = " ".join(title) + (f" {one} kg" if size > 1 else "")
            found.append((path, name, self._edited(text, 1 / 25) + same))
        return found

    def _moved(self, page: Page, paths: float, titles: float, edited: float) -> Page:
        draw, (path, title, words) = self._draw, page
        kept = path.rpartition("/")[2] if draw.random() < paths else str(draw.randrange(10**6))
        title = " ".join(self._some(3)) if draw.random() < titles else title
        return f"/new-{draw.randrange(5)}/{kept}", title, self._edited(words, edited * draw.random())

    def _copied(self, page: Page) -> Page:
        title = page[1] if self._draw.random() < 0.5 else " ".join(self._some(3))
        return f"/new/{self._draw.randrange(10**6)}", title, self._edited(page[2], 1 / 3)


def _pages(some: list[Page]) -> Pages:
    places = np.arange(len(some))
    titles = [title for _, title, _ in some]
    texts = shingles.of([" ".join(words) for _, _, words in some])
    nothing: list[frozenset[int]] = [frozenset()] * len(some)
    return Pages(places, [path for path, _, _ in some], titles, titles, nothing, [""] * len(some), nothing, texts)


def main() -> None:
    """Pair the sites, and count."""
    parser = argparse.ArgumentParser(prog="bench/certainty", description=__doc__)
    parser.add_argument("--pages", type=int, default=1_000)
    parser.add_argument("--seeds", type=int, default=3)
    options = parser.parse_args()
    bands: dict[float, list[int]] = defaultdict(lambda: [0, 0])
    print(f"{'site':<22}{'moved':>8}{'paired':>8}{'of moved':>10}{'right':>8}")
    for name, shares in SITES.items():
        moved = paired = right = 0
        for seed in range(options.seeds):
            site = Site(seed, options.pages, **shares)
            found = pairing.find(_pages(site.left), _pages(site.right))
            is_right = [
                site.truth.get(one) == other
                for one, other in zip(found.left.tolist(), found.right.tolist(), strict=True)
            ]
            for certainty, good in zip(found.certainty.tolist(), is_right, strict=True):
                band = bands[max(one for one in BANDS if one <= certainty)]
                band[0] += 1
                band[1] += good
            moved, paired, right = moved + len(site.truth), paired + len(found), right + sum(is_right)
        print(f"{name:<22}{moved:>8}{paired:>8}{right / moved:>10.3f}{right / paired:>8.3f}")
    print(f"\n{'certainty from':<22}{'pairs':>8}{'right':>8}")
    for least in BANDS:
        number, good = bands[least]
        print(f"{least:<22}{number:>8}{good / max(1, number):>8.3f}")
    number, good = (sum(bands[least][at] for least in BANDS if 0.9 <= least < 0.95) for at in (0, 1))
    print(f"certainty ratio={good / max(1, number):.3f} min=0.9")
    sys.exit(0 if good >= 0.9 * number else 1)


if __name__ == "__main__":
    main()
