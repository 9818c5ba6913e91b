"""Writes a dump anew with its old addresses replaced, against reading it as bench/dump does.

Both are processor time. The dump is that of bench/dump: each post of 2 KB has an address that is replaced.
"""

import argparse
import resource
import tempfile
import time
from pathlib import Path

from bench import dump
from bench.common import apart, close, say


def ours(file: str, posts: int) -> None:
    """Write the dump anew; print processor seconds and the memory of this process."""
    from palinode.core import rule as rules
    from palinode.core.dumps.quoting import Quoting
    from palinode.core.leftovers import wanted
    from palinode.core.leftovers.replacement import Replacement

    before = time.process_time()
    old, new = dump.ADDRESS.decode(), "https://quillhavenmill.example"
    rule = rules.read(f"{old}/ -> {new}/")
    replacement = Replacement(wanted.of_move([f"{old}/"], [f"{new}/"], rule), rule)
    with open(file, "rb") as opened, open("/dev/null", "wb") as written:
        for _ in replacement.steps(opened.read, Quoting.BACKSLASH, written.write):
            pass
    spent = time.process_time() - before
    (change,) = replacement.changes
    assert (change.cells, change.occurrences) == (posts, posts)
    print(spent, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000)


def main() -> None:
    """Measure alternately, each in a process of its own."""
    parser = argparse.ArgumentParser(prog="bench/replacement", description=__doc__)
    parser.add_argument("--megabytes", type=int, default=1_000)
    parser.add_argument("--runs", type=int, default=3)
    options = parser.parse_args()
    with tempfile.TemporaryDirectory(prefix="palinode-bench-") as folder:
        file = Path(folder) / "dump.sql"
        posts = dump.generate(file, options.megabytes)
        say(f"{file.stat().st_size / 10**6:,.0f} MB, {posts:,} posts")
        mine: list[float] = []
        theirs: list[float] = []
        peak = 0.0
        for run in range(options.runs):
            seconds, _ = apart("dump.ours", file, posts)
            theirs.append(seconds)
            seconds, memory = apart("replacement.ours", file, posts)
            mine.append(seconds)
            peak = max(peak, memory)
            say(f"run {run + 1}: ours {mine[-1]:.2f} s, reading {theirs[-1]:.2f} s, peak {peak:,.0f} MB")
    close("replacement", mine, theirs, "max=2", peak)


if __name__ == "__main__":
    main()
