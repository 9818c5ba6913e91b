"""Partners of pages by their texts alone, against the best partner of each by the product of all TF-IDF vectors.

With --site: 1,700 by 1,665 pages of which addresses pair a third; ours pairs the others, the yardstick all.
"""

import argparse
import random
import resource
import time

import numpy as np
from scipy import sparse

from bench.common import close, say
from palinode.core import pairing
from palinode.core.pairing import shingles
from palinode.core.pairing.pages import Pages

WORDS = 600
VOCABULARY = 40_000
BLOCK = 500
_SITE = (1_700, 1_665)


def seed(pages: int) -> tuple[list[str], list[str], np.ndarray]:
    """Return the texts of both sides and which right one each left one is; right ones are revised and in any order."""
    draw, numbers = random.Random(11), np.random.default_rng(11)
    words = np.array([f"w{number:x}" for number in range(VOCABULARY)])
    chance = 1 / np.arange(1, VOCABULARY + 1)
    chance /= chance.sum()
    left, right = [], []
    for _ in range(pages):
        text = numbers.choice(words, WORDS, p=chance)
        left.append(" ".join(text))
        revised = text.copy()
        # One word in twelve is another, a paragraph is gone, two others change places.
        at = numbers.random(WORDS) < 1 / 12
        revised[at] = numbers.choice(words, int(at.sum()), p=chance)
        paragraphs = [revised[start : start + 60] for start in range(0, WORDS, 60)]
        del paragraphs[draw.randrange(len(paragraphs))]
        one, other = draw.sample(range(len(paragraphs)), 2)
        paragraphs[one], paragraphs[other] = paragraphs[other], paragraphs[one]
        right.append(" ".join(np.concatenate(paragraphs)))
    order = numbers.permutation(pages)
    return left, [right[at] for at in order.tolist()], np.argsort(order)


def pages_of(texts: list[str]) -> Pages:
    """Return pages that say nothing but their text."""
    n, nothing = len(texts), [""] * len(texts)
    none: list[frozenset[int]] = [frozenset()] * n
    return Pages(np.arange(n), ["/"] * n, nothing, nothing, none, nothing, none, shingles.of(texts))


def ours(left: list[str], right: list[str]) -> np.ndarray:
    """Return the partner of each left text, -1 for none."""
    found = pairing.find(pages_of(left), pages_of(right))
    partner = np.full(len(left), -1)
    partner[found.left] = found.right
    return partner


def yardstick(left: list[str], right: list[str]) -> np.ndarray:
    """Return the right text that is most like each left one, by the cosine of TF-IDF vectors."""
    known: dict[str, int] = {}
    sides = []
    for texts in (left, right):
        columns = [known.setdefault(word, len(known)) for text in texts for word in text.split()]
        starts = np.cumsum([0, *(len(text.split()) for text in texts)])
        sides.append((np.ones(len(columns), np.float32), np.array(columns), starts))
    vectors = [sparse.csr_array(side, (len(side[2]) - 1, len(known))) for side in sides]
    for one in vectors:
        one.sum_duplicates()
    documents = sum(np.bincount(one.indices, minlength=len(known)) for one in vectors)
    weight = np.log((len(left) + len(right)) / documents).astype(np.float32)
    for one in vectors:
        one.data *= weight[one.indices]
        one.data /= np.repeat(np.sqrt(one.power(2).sum(axis=1)), np.diff(one.indptr))
    other = vectors[1].T.tocsr()
    best = np.empty(len(left), np.int64)
    for start in range(0, len(left), BLOCK):
        product = vectors[0][start : start + BLOCK] @ other
        best[start : start + BLOCK] = product.toarray().argmax(axis=1)
    return best


def _some(texts: list[str], chosen: np.ndarray) -> list[str]:
    return [texts[row] for row in np.flatnonzero(chosen).tolist()]


def main() -> None:
    """Measure alternately."""
    parser = argparse.ArgumentParser(prog="bench/pairing", description=__doc__)
    parser.add_argument("--pages", type=int, default=20_000)
    parser.add_argument("--runs", type=int, default=1)
    parser.add_argument("--site", action="store_true")
    options = parser.parse_args()
    left, right, truth = seed(_SITE[0] if options.site else options.pages)
    if options.site:
        right = right[: _SITE[1]]
        truth = np.where(truth < len(right), truth, -1)
    # Those that addresses pair stand at every third place of the left, wherever their partners are.
    by_text = np.arange(len(left)) % 3 > 0 if options.site else np.ones(len(left), bool)
    taken = np.isin(np.arange(len(right)), truth[~by_text])
    say(f"{len(left):,} by {len(right):,} pages of {WORDS} words, {by_text.sum():,} of them paired by text")
    mine: list[float] = []
    theirs: list[float] = []
    peak = 0.0
    for run in range(options.runs):
        started = time.perf_counter()
        found = ours(_some(left, by_text), _some(right, ~taken))
        mine.append(time.perf_counter() - started)
        peak = max(peak, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000) if run == 0 else peak
        started = time.perf_counter()
        best = yardstick(left, right)
        theirs.append(time.perf_counter() - started)
        right_of_theirs = (best == truth)[by_text]
        found = np.append(np.flatnonzero(~taken), -1)[found]
        kept = (found == truth[by_text])[right_of_theirs].mean()
        wrong = int(((found >= 0) & (found != truth[by_text])).sum())
        say(
            f"run {run + 1}: ours {mine[-1]:.1f} s, yardstick {theirs[-1]:.1f} s with {right_of_theirs.sum():,} right "
            f"pairs, of which ours has {kept:.2%}; {wrong} wrong"
        )
        assert kept >= 0.99, "too few of its right pairs"
    close("pairing", mine, theirs, "max=0.1" if options.site else "max=0.2", peak)


if __name__ == "__main__":
    main()
