"""Runs Palinode with the demo's hosts, and makes its two moves at the first start. bin/demo calls it."""

import subprocess
import sys

from demo.hosts import HOSTS
from palinode.project.postgres import PostgresError, free_port
from palinode.project.run import Runner, run

FIRST_PORT = 8101


def _ports() -> int:
    """Return the first of as many ports in a row as there are hosts, all free."""
    for first in range(FIRST_PORT, FIRST_PORT + 400, 10):
        if all(free_port(first + number) == first + number for number in range(len(HOSTS))):
            return first
    raise PostgresError(f"No ports are free for the demo's hosts from {FIRST_PORT} on.")


def prepare(runner: Runner, address: str) -> None:
    """Start the simulated hosts and let the guard through to them, and to nothing else."""
    kept = runner.data / "hosts-port"
    first = int(kept.read_text()) if kept.exists() else _ports()
    last = first + len(HOSTS) - 1
    if any(free_port(first + number) != first + number for number in range(len(HOSTS))):
        raise PostgresError(
            f"Ports {first} to {last}, which the demo's hosts used before, are taken. "
            "Stop what uses them, or begin anew with --fresh."
        )
    kept.write_text(str(first))
    runner.environment["PALINODE_ALLOW_NETWORKS"] = f"127.0.0.1/32:{first}-{last - 1}"
    runner.environment["PALINODE_DEMO_PORT"] = str(first)
    runner.start("hosts", sys.executable, "-m", "demo.hosts", str(runner.data), str(first))


def play(runner: Runner, address: str) -> None:
    """Make the demo's moves if they are not there, and say where to go."""
    first = int(runner.environment["PALINODE_DEMO_PORT"])
    done = subprocess.run([sys.executable, "-m", "demo.moves"], env=runner.environment, check=False)
    if done.returncode:
        print("The demo's moves could not be made; what was said stands above.", file=sys.stderr)
    print(
        f"\n  Palinode's demo is at  {address}\n  sign in as             miller / tide-and-stone\n"
        f"  faults are set at      http://127.0.0.1:{first + len(HOSTS) - 1}/\n\n  Ctrl-C stops it.",
        flush=True,
    )


if __name__ == "__main__":
    run("demo", prepare, play, may_begin_anew=True)
