"""Reads a dump in one pass, its tables, rows, items and mentions, against one vectorised pass over its quotes.

Both are processor time. The dump is one of a content platform: posts with one address in 2 KB of text, and their fields.
"""

import argparse
import random
import resource
import tempfile
import time
from pathlib import Path

import numpy as np

from bench.common import apart, close, say

WORDS = [
    "tide",
    "wheel",
    "stone",
    "flour",
    "sack",
    "gate",
    "pond",
    "leat",
    "hoist",
    "miller",
    "barley",
    "neap",
    "it's",
    '"said"',
    "river,",
    "(harbour)",
    "quay;",
    "<b>",
]
ADDRESS = b"http://tidemill.quillhaven.example"
READ = 1 << 20


def generate(file: Path, megabytes: int) -> int:
    """Write a dump of a size as mariadb-dump does; return how many posts it has."""
    draw = random.Random(3)
    posts = written = 0
    with file.open("wb") as out:
        out.write(b"-- MariaDB dump 10.19  Distrib 10.11\n\n")
        out.write(
            b"CREATE TABLE `wp_posts` (\n"
            + b",\n".join(b"`%s` text" % name for name in POSTS)
            + b"\n) ENGINE=InnoDB;\n"
        )
        out.write(
            b"CREATE TABLE `wp_postmeta` (`meta_id` int, `post_id` int, `meta_key` text, `meta_value` text) ENGINE=InnoDB;\n"
        )
        while written < megabytes * 10**6:
            rows, fields, size = [], [], 0
            while size < 10**6:
                posts += 1
                text = " ".join(draw.choices(WORDS, k=330)).replace("'", "\\'").replace('"', '\\"')
                rows.append(
                    f"({posts},1,'2020-01-01 00:00:00','<p>{text}</p>\\n<a href=\\\"{ADDRESS.decode()}/journal/{posts}\\\">"
                    f"more</a>','Title {posts}','','publish','post-{posts}',0,'post',0)"
                )
                fields.append(f"({posts},{posts},'_edit_last','1')")
                size += len(rows[-1])
            for table, values in (("wp_posts", rows), ("wp_postmeta", fields)):
                together = ",\n".join(values)
                written += out.write(f"INSERT INTO `{table}` VALUES\n{together};\n".encode())
        out.write(b"-- Dump completed on 2026-11-28\n")
    return posts


POSTS = (b"ID", b"post_author", b"post_date", b"post_content", b"post_title", b"post_excerpt", b"post_status",
         b"post_name", b"post_parent", b"post_type", b"comment_count")  # fmt: skip


def ours(file: str, posts: int) -> None:
    """Read the dump; print processor seconds and the memory of this process."""
    from palinode.core import platforms
    from palinode.core.dumps import mentions
    from palinode.core.dumps.quoting import Quoting
    from palinode.core.dumps.script import Script
    from palinode.core.platforms.inventory import Inventory
    from tests.site_files import gathered

    before = time.process_time()
    inventory, found = Inventory(platforms.ALL), 0

    def take(table, rows):  # type: ignore[no-untyped-def]
        nonlocal found
        inventory.take(table, rows)
        found += len(mentions.find(rows.cells, [ADDRESS]).row)

    with open(file, "rb") as opened:
        told = gathered(Script(opened.read, Quoting.BACKSLASH).parts(), take)
    spent = time.process_time() - before
    assert [one.rows for one in told.tables.values()] == [posts, posts], told.tables
    (items,) = [one.items for one in inventory._taken.values() if hasattr(one, "items")]
    assert (found, items.count) == (posts, posts)
    print(spent, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000)


def yardstick(file: str) -> None:
    """Find its quotes and backslashes; print processor seconds."""
    before, found = time.process_time(), 0
    with open(file, "rb") as opened:
        while piece := opened.read(READ):
            view = np.frombuffer(piece, np.uint8)
            found += len(np.flatnonzero((view == 0x27) | (view == 0x5C)))
    assert found
    print(time.process_time() - before)


def main() -> None:
    """Measure alternately, each in a process of its own."""
    parser = argparse.ArgumentParser(prog="bench/dump", description=__doc__)
    parser.add_argument("--megabytes", type=int, default=1_000)
    parser.add_argument("--runs", type=int, default=3)
    options = parser.parse_args()
    with tempfile.TemporaryDirectory(prefix="palinode-bench-") as folder:
        file = Path(folder) / "dump.sql"
        posts = generate(file, options.megabytes)
        say(f"{file.stat().st_size / 10**6:,.0f} MB, {posts:,} posts")
        mine: list[float] = []
        theirs: list[float] = []
        peak = 0.0
        for run in range(options.runs):
            theirs += apart("dump.yardstick", file)
            seconds, memory = apart("dump.ours", file, posts)
            mine.append(seconds)
            peak = max(peak, memory)
            say(f"run {run + 1}: ours {mine[-1]:.2f} s, yardstick {theirs[-1]:.2f} s, peak {peak:,.0f} MB")
    close("dump", mine, theirs, "max=4", peak)


if __name__ == "__main__":
    main()
