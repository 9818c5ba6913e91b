"""What the benchmarks share: a database of their own, medians, the closing line."""

import os
import shutil
import statistics
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from palinode.project.postgres import Cluster

CHECKOUT = Path(__file__).resolve().parent.parent


def say(text: str) -> None:
    """Print progress on standard error, so that standard output holds results alone."""
    print(text, file=sys.stderr, flush=True)


@contextmanager
def database() -> Iterator[Path]:
    """Start a private PostgreSQL with the settings of real use, migrate, set Django up; yield a folder."""
    folder = Path(tempfile.mkdtemp(prefix="palinode-bench-"))
    folder.chmod(0o755)
    cluster = Cluster(folder / "postgres")
    try:
        cluster.start()
        os.environ |= {
            "DJANGO_SETTINGS_MODULE": "palinode.project.settings",
            "PALINODE_DATABASE": cluster.url,
            "PALINODE_DATA": str(folder),
            "PYTHONPATH": str(CHECKOUT),
        }
        import django

        django.setup()
        from django.core.management import call_command

        call_command("migrate", verbosity=0)
        yield folder
        from django.db import connections

        connections.close_all()
    finally:
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)


def apart(function: str, *args: object) -> list[float]:
    """Return the numbers that a function of a benchmark (``dump.ours``) prints in a process of its own."""
    module = function.partition(".")[0]
    code = f"from bench import {module}; {function}({', '.join(repr(str(one) if isinstance(one, Path) else one) for one in args)})"
    environment = os.environ | {"PYTHONPATH": str(CHECKOUT)}
    said = subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True, env=environment)
    return [float(one) for one in said.stdout.split()]


def close(name: str, ours: list[float], theirs: list[float], bound: str, peak_mb: float | None = None) -> None:
    """Print the closing line; the exit status is 1 if the bound is not kept."""
    ratio = statistics.median(ours) / statistics.median(theirs)
    word, _, limit = bound.partition("=")
    kept = ratio >= float(limit) if word == "min" else ratio <= float(limit)
    peak = f" peak_mb={peak_mb:.0f}" if peak_mb is not None else ""
    print(f"{name} ratio={ratio:.3f} {bound}{peak}")
    sys.exit(0 if kept else 1)


def memory_mb(pid: int) -> float:
    """Return the memory of a process and its children together, in megabytes; what they share counts once."""
    total = 0.0
    for one in [pid, *children(pid)]:
        try:
            rollup = Path(f"/proc/{one}/smaps_rollup").read_text()
        except OSError:
            continue
        total += next((int(line.split()[1]) / 1000 for line in rollup.splitlines() if line.startswith("Pss:")), 0)
    return total


def processor_seconds(*pids: int) -> float:
    """Return the processor time of processes and of all that they started, those that ended included."""
    tick = os.sysconf("SC_CLK_TCK")
    total = 0
    for one in {number for pid in pids for number in (pid, *children(pid))}:
        try:
            fields = Path(f"/proc/{one}/stat").read_text().rpartition(")")[2].split()
        except OSError:
            continue
        total += sum(map(int, fields[11:15]))
    return total / tick


def server_pid(folder: Path) -> int:
    """Return the process of the database that :func:`database` started in a folder."""
    return int((folder / "postgres" / "data" / "postmaster.pid").read_text().split()[0])


def children(pid: int) -> list[int]:
    """Return the processes that a process started, and theirs."""
    found: list[int] = []
    for task in Path(f"/proc/{pid}/task").glob("*/children"):
        try:
            found += map(int, task.read_text().split())
        except OSError:
            continue
    return [number for child in found for number in (child, *children(child))]
