"""Judges the links of two captures, from mapped arrays, against one np.unique over all their targets.

Both are processor time. Each side has as many pages, with a hundred links each; some addresses are gone at the
destination, some redirect, some were broken before, and a menu is linked from everywhere.
"""

import argparse
import resource
import tempfile
import time
from pathlib import Path

import numpy as np

from bench.common import apart, close, say

_EACH = 100
_MENU = 20
OLD, NEW = "http://old.example", "https://new.example"


def generate(folder: Path, pages: int) -> None:
    """Write the columns of both sides."""
    from palinode.core import address as addresses
    from palinode.records import lines

    draw = np.random.default_rng(3)
    paths = [f"/journal/{2000 + n % 25}/{n % 12 + 1:02}/what-the-tide-brought-{n}" for n in range(pages)]
    gone, before = draw.random(pages) < 0.01, draw.random(pages) < 0.002
    to = np.minimum(draw.zipf(1.2, pages * (_EACH - _MENU)), pages) - 1
    for host in (OLD, NEW):
        texts = np.array([host + path for path in paths], object)
        ident = addresses.idents(texts.tolist())
        order = np.argsort(ident)
        place = np.empty(pages, np.int64)
        place[order] = np.arange(pages)
        links = np.empty((pages, _EACH), np.int32)
        links[:, :_MENU] = place[draw.permutation(pages)[:_MENU]]
        links[:, _MENU:] = place[to].reshape(pages, -1)
        status = np.full(pages, 200, np.int16)
        status[before] = 404
        if host == NEW:
            status[gone] = 404
        there = status[order] == 200
        # What is not there has no links.
        links = links[order][there]
        sizes = np.where(there, _EACH, 0)
        arrays = {
            "ident": ident[order],
            "status": status[order],
            "is_page": there,
            "offsets": np.concatenate([[0], np.cumsum(sizes)]),
            "to": links.ravel(),
            "place": np.tile(np.repeat(np.array([32, 8], np.uint8), [_MENU, _EACH - _MENU]), int(there.sum())),
            "text": lines.of(texts[order].tolist()),
        }
        for name, array in arrays.items():
            np.save(folder / f"{'left' if host == OLD else 'right'}-{name}.npy", array)


def _side(folder: Path, name: str):
    from palinode.core.links import Links
    from palinode.records.lines import Lines

    held = {one: np.load(folder / f"{name}-{one}.npy", mmap_mode="r") for one in ("ident", "status", "is_page", "offsets", "to", "place", "text")}  # fmt: skip
    texts = Lines(held.pop("text"), len(held["ident"]))
    nothing = np.zeros(0, np.int64)
    zeros = np.zeros(len(held["ident"]), np.int64)
    return Links(
        **held,
        target=zeros,
        known=zeros.astype(np.int16),
        elsewhere=nothing,
        texts=texts.at,
        reasons=lambda numbers: [""] * len(numbers),
    )


def _ledger(left, right):
    """Return the rows of pages: every page of the source beside the one of the destination, or nothing."""
    from palinode.core import address as addresses
    from palinode.core.fates import Fate
    from palinode.core.fields import Field
    from palinode.core.ledger import Differences, Ledger

    rows = np.flatnonzero(left.is_page)
    texts = left.texts(rows)
    expected = [text.replace(OLD, NEW) for text in texts]
    there = right.find(addresses.idents(expected))
    kept = np.append(right.is_page, False)[there]
    n = len(rows)
    zeros = np.zeros(n, np.int64)
    named = dict.fromkeys(
        ("place", "section", "group", "found_by", "certainty", "address_change", "content_change", "shared_change",
         "redirect", "asked", "left_status", "right_status", "recognised", "shut_out", "visits", "last_visit", "template"),
        zeros,
    )  # fmt: skip
    return Ledger(
        **named | {"place": np.arange(n)},
        fate=np.where(kept, Fate.KEPT, Fate.LOST),
        section_names=[""],
        group_names=[""],
        left=left.ident[rows],
        right=np.where(kept, np.append(right.ident, 0)[there], 0),
        left_address=texts,
        left_title=texts,
        right_address=expected,
        detail=texts,
        differences=Differences(zeros[:0], np.zeros((0, len(Field)), np.int64), [], zeros[:0]),
        homes=(f"{OLD}/", f"{NEW}/"),
    )


def ours(folder: str) -> None:
    """Judge them; print processor seconds, those of the yardstick, and the memory of this process."""
    from palinode.core.checks.links.check import CHECK
    from palinode.core.checks.looked import Looked, Side
    from palinode.core.rule import read

    left, right = (_side(Path(folder), name) for name in ("left", "right"))
    pages = _ledger(left, right)
    rule = read(f"{OLD}/ -> {NEW}/")
    sides = Side((f"{OLD}/",), links=left), Side((f"{NEW}/",), links=right)
    before = time.process_time()
    made = CHECK.judge(Looked(*sides, rule, "Palinode", pages=pages))
    spent = time.process_time() - before
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000
    words = [CHECK.verdicts[at].word for at in made.rows.verdict.tolist()]
    assert 0 < words.count("broken") < 0.02 * len(left.ident) and "before" in words, words.count("broken")
    targets = np.concatenate([left.to, right.to])
    before = time.process_time()
    np.unique(targets)
    print(spent, time.process_time() - before, peak, len(words))


def main() -> None:
    """Run the benchmark."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--pages", type=int, default=100_000)
    parser.add_argument("--runs", type=int, default=3)
    options = parser.parse_args()
    with tempfile.TemporaryDirectory() as name:
        generate(Path(name), options.pages)
        say(f"{options.pages:,} pages with {options.pages * _EACH:,} links a side")
        spent, yard, peaks = [], [], []
        for run in range(options.runs):
            one, other, peak, rows = apart("links.ours", Path(name))
            spent.append(one)
            yard.append(other)
            peaks.append(peak)
            say(f"run {run + 1}: ours {one:.2f} s for {rows:,.0f} rows, np.unique {other:.2f} s, peak {peak:.0f} MB")
        close("links", spent, yard, "max=3", max(peaks))


if __name__ == "__main__":
    main()
