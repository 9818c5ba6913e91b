"""Learns the patterns of a site's addresses, against sort over them. Both are processor time."""

import argparse
import os
import random
import resource
import subprocess
import tempfile
import time
from pathlib import Path

from bench.common import apart, close, say

_WORDS = ["tide", "mill", "flour", "rye", "wheel", "pond", "gate", "moon", "sea", "bread", "stone", "harbour"]


def generate(file: Path, number: int) -> None:
    """Write addresses as a site has them that grew for twenty years, in no order."""
    draw = random.Random(1)
    paths = []
    for n in range(number):
        name, chance = f"{'-'.join(draw.choices(_WORDS, k=3))}-{n}", draw.random()
        year, month = draw.randrange(2005, 2026), draw.randrange(1, 13)
        paths.append(
            f"/journal/{year}/{month:02}/{name}" if chance < 0.5
            else f"/recipes/{name}" if chance < 0.7
            else f"/shop/{draw.choice(_WORDS)}/{name}.html" if chance < 0.85
            else f"/?p={n}" if chance < 0.9
            else f"/topics/{draw.choice(_WORDS)}-{draw.randrange(500)}/page/{draw.randrange(20)}/"
        )  # fmt: skip
    draw.shuffle(paths)
    file.write_text("\n".join(paths) + "\n")


def ours(file: str) -> None:
    """Learn them; print processor seconds and how many patterns there are."""
    from palinode.core import address_patterns

    paths = Path(file).read_text().splitlines()
    before = time.process_time()
    found = address_patterns.learn(paths)
    spent = time.process_time() - before
    assert "/journal/{year}/{month}/{name}" in found.names[:1], found.names
    assert {"/recipes/{name}", "/?p={number}", "/topics/{name}/page/{number}/"} <= set(found.names), found.names
    print(spent, len(found.names))


def yardstick(file: Path) -> float:
    """Return the processor seconds of sort."""
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    subprocess.run(["sort", "-o", f"{file}.sorted", str(file)], check=True, env=os.environ | {"LC_ALL": "C"})
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def main() -> None:
    """Measure alternately."""
    parser = argparse.ArgumentParser(prog="bench/patterns", description=__doc__)
    parser.add_argument("--addresses", type=int, default=100_000)
    parser.add_argument("--runs", type=int, default=5)
    options = parser.parse_args()
    mine: list[float] = []
    theirs: list[float] = []
    with tempfile.TemporaryDirectory(prefix="palinode-bench-") as folder:
        file = Path(folder) / "addresses"
        generate(file, options.addresses)
        for run in range(options.runs):
            theirs.append(yardstick(file))
            seconds, patterns = apart("patterns.ours", file)
            mine.append(seconds)
            say(f"run {run + 1}: ours {mine[-1]:.2f} s for {patterns:.0f} patterns, sort {theirs[-1]:.2f} s")
    close("patterns", mine, theirs, "max=5")


if __name__ == "__main__":
    main()
