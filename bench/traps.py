"""What a capture asks beyond what a site has: one beside ten traps without end, one whose pages have but a number.

Not a time: requests of a whole capture over the pages that there are. The numbered site must be captured whole.
"""

import argparse
import os
import re
import sys
import time
from collections import Counter
from typing import Any

from bench.common import database, memory_mb, say
from tests.site import Site
from tests.traps import Traps, numbered

EXTRA = 1_000
"""Requests that ten traps may take besides 5 % of the pages."""


def capture(site: Site, number: int) -> Any:
    """Return a finished capture of a site."""
    from django.contrib.auth.models import User

    from palinode.work import move_setup
    from palinode.work.capturing import capture_job, crawl_worker
    from palinode.work.capturing.policy import Policy

    sides = [move_setup.typed_side("http://mill.example/", f"127.0.0.1:{site.port}")] * 2
    move = move_setup.describe(f"Bench {number}", *sides, [], User.objects.create_user(f"bench{number}"))
    made = capture_job.begin(move, "source", Policy(sample=0))
    started = time.perf_counter()
    crawl_worker.work_on(made.pk)
    made.refresh_from_db()
    say(f"{made.asked:,} asked, {made.pages:,} pages, complete: {made.complete}, {time.perf_counter() - started:.0f} s")
    return made


def main() -> None:
    """Capture both."""
    parser = argparse.ArgumentParser(prog="bench/traps", description=__doc__)
    parser.add_argument("--pages", type=int, default=10_000)
    options = parser.parse_args()
    trapped = Traps(options.pages)
    with Site(numbered(options.pages)) as plain, Site(trapped.find) as traps:
        os.environ["PALINODE_ALLOW_NETWORKS"] = ",".join(one.allowed for one in (plain, traps))
        with database():
            whole = capture(plain, 1)
            found = capture(traps, 2)
            by_trap = Counter(re.split(r"[/?;=]", path[1:])[0] for path in traps.asked)
            say(", ".join(f"{name or 'home'} {count:,}" for name, count in by_trap.most_common()))
            bare = {path.partition("?")[0].partition(";")[0] for path in traps.asked if path.startswith("/p/")}
            missing = options.pages - len(bare)
            say(f"{missing:,} pages beside the traps were not asked; {options.pages + 1 - whole.pages:,} numbered ones")
            good = whole.complete and found.complete and not missing and whole.pages == options.pages + 1
            most = 1.05 + EXTRA / options.pages
            ratio = found.asked / options.pages
            peak = memory_mb(os.getpid())
    print(f"traps ratio={ratio:.3f} max={most:.3f} peak_mb={peak:.0f}")
    sys.exit(0 if good and ratio <= most else 1)


if __name__ == "__main__":
    main()
