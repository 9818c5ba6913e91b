"""Runs the tests in two lanes beside each other, and counts them on the last line.

A lane is a process with a private PostgreSQL and a data folder of its own, which are thrown away. It takes one file of
tests after another, those that take longest first, until none is left.
"""

import os
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from queue import Empty, SimpleQueue

ROOT = Path(__file__).resolve().parent.parent
PARTS = ("checks", "core", "gather", "records", "work", "api", "browser", "real")
QUICK = ("checks", "core", "gather", "records", "api")
SLOW_ALONE = ("tests.core.test_linear",)
"""What ``quick`` leaves out."""
LANES = min(2, os.cpu_count() or 1)
LONGEST_FIRST = ("tests.real", "tests.checks", "tests.core.test_linear", "tests.browser", "tests.work", "tests.api")


def main() -> None:
    """Run all parts, or those that are named."""
    named = sys.argv[1:]
    labels = [label for name in (PARTS if not named else QUICK if named == ["quick"] else named) for label in _of(name)]
    if named == ["quick"]:
        labels = [label for label in labels if label not in SLOW_ALONE]
    waiting: SimpleQueue[str] = SimpleQueue()
    for label in sorted(labels, key=_order):
        waiting.put(label)
    lanes = min(LANES, len(labels))
    with ThreadPoolExecutor(max(1, lanes)) as pool:
        counted = [one.result() for one in [pool.submit(_drive, waiting) for _ in range(lanes)]]
    passed, failed = (sum(column) for column in zip(*counted, strict=True)) if counted else (0, 0)
    print(f"{passed} passed, {failed} failed", flush=True)
    sys.exit(1 if failed or not passed else 0)


def _of(name: str) -> list[str]:
    """Return the labels of a part: its files; of anything else the label itself."""
    files = sorted((ROOT / "tests" / name).glob("test_*.py"))
    return [f"tests.{name}.{file.stem}" for file in files] or [name]


def _order(label: str) -> int:
    return next((place for place, start in enumerate(LONGEST_FIRST) if label.startswith(start)), len(LONGEST_FIRST))


def _drive(waiting: "SimpleQueue[str]") -> tuple[int, int]:
    """Give a lane one label after another; return how many tests passed and failed in it."""
    folder = Path(tempfile.mkdtemp(prefix="palinode-test-"))
    folder.chmod(0o755)
    command = [sys.executable, "-m", "tests.lane", str(folder)]
    passed = failed = 0
    try:
        with subprocess.Popen(command, cwd=ROOT, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as lane:
            assert lane.stdin and lane.stdout
            while True:
                try:
                    label = waiting.get_nowait()
                except Empty:
                    break
                try:
                    lane.stdin.write(f"{label}\n")
                    lane.stdin.flush()
                    said = lane.stdout.readline().split()
                except BrokenPipeError:
                    said = []
                if len(said) != 2:
                    print(f"{label}: the lane ended", flush=True)
                    return passed, failed + 1
                passed, failed = passed + int(said[0]), failed + int(said[1])
            lane.stdin.close()
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    return passed, failed


if __name__ == "__main__":
    main()
