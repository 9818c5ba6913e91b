"""Reads two lists of a million files and holds them against each other, against sort to files, then join.

Both are processor time. A folder of the right one stands one deeper, some files are missing, more, or different.
"""

import argparse
import os
import random
import resource
import subprocess
import tempfile
import time
from pathlib import Path

from bench.common import apart, close, say


def generate(folder: Path, files: int) -> None:
    """Write two lists as sha256sum prints them, in the order of a file system."""
    draw = random.Random(5)
    left = [f"wp-content/uploads/{2005 + n % 20}/{n % 12 + 1:02}/picture-of-the-mill-{n}.jpg" for n in range(files)]
    digests = [f"{draw.getrandbits(256):064x}" for _ in left]
    right = []
    for path, digest in zip(left, digests, strict=True):
        chance = draw.random()
        if chance < 0.01:
            continue
        at = path.replace("/2012/", "/2012/2012/") if "/2012/" in path else path
        right.append((at, f"{draw.getrandbits(256):064x}" if chance < 0.02 else digest))
    for name, listed in (("left", list(zip(left, digests, strict=True))), ("right", right)):
        draw.shuffle(listed)
        (folder / name).write_text("".join(f"{digest}  ./{path}\n" for path, digest in listed))


def ours(folder: str) -> None:
    """Compare them; print processor seconds and the memory of this process."""
    from palinode.core.listings import facing, listing
    from tests.site_files import listing_of

    before = time.process_time()
    sides = []
    for name in ("left", "right"):
        with open(f"{folder}/{name}", "rb") as file:
            sides.append(listing_of(file.read, listing.Form.DIGESTS))
    found = facing.face(*sides)
    spent = time.process_time() - before
    (subtree,) = found.subtrees
    assert (subtree.left, subtree.right) == ("wp-content/uploads/", "wp-content/uploads/2012/"), subtree
    assert found.same > 0.9 * len(sides[0]) and subtree.files > 0.04 * len(sides[0])
    print(spent, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000)


def yardstick(folder: Path) -> float:
    """Return the processor seconds of sort and join."""
    script = "sort -k2 left > a && sort -k2 right > b && join -1 2 -2 2 -a 1 -a 2 a b > c"
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    subprocess.run(["sh", "-c", script], cwd=folder, check=True, env=os.environ | {"LC_ALL": "C"})
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def main() -> None:
    """Measure alternately."""
    parser = argparse.ArgumentParser(prog="bench/listing", description=__doc__)
    parser.add_argument("--files", type=int, default=1_000_000)
    parser.add_argument("--runs", type=int, default=3)
    options = parser.parse_args()
    mine: list[float] = []
    theirs: list[float] = []
    peak = 0.0
    with tempfile.TemporaryDirectory(prefix="palinode-bench-") as folder:
        generate(Path(folder), options.files)
        for run in range(options.runs):
            theirs.append(yardstick(Path(folder)))
            seconds, memory = apart("listing.ours", folder)
            mine.append(seconds)
            peak = max(peak, memory)
            say(f"run {run + 1}: ours {mine[-1]:.1f} s, sort and join {theirs[-1]:.1f} s, peak {peak:,.0f} MB")
    close("listing", mine, theirs, "max=10", peak)


if __name__ == "__main__":
    main()
