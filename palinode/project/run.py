"""Runs Palinode on one machine: PostgreSQL, server, workers. bin/serve calls it; bin/demo adds its hosts."""

import argparse
import fcntl
import json
import os
import secrets
import shutil
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from http.client import HTTPConnection, HTTPException
from pathlib import Path
from types import FrameType

from palinode.project.postgres import Cluster, PostgresError, folder_for, free_port

CHECKOUT = Path(__file__).resolve().parent.parent.parent

_PATIENCE = 60
"""Seconds until a server that does not answer is given up."""
WORKER = (sys.executable, "-m", "django", "procrastinate", "worker", "--delete-jobs=always")
WORKER_ENVIRONMENT = {
    "MALLOC_ARENA_MAX": "2",
    "MALLOC_TRIM_THRESHOLD_": str(8 << 20),
    "MALLOC_MMAP_THRESHOLD_": str(1 << 20),
}
"""Threads that take turns would otherwise each keep memory of their own that is not given back; given back by smaller
pieces, it would be asked for again with every page."""


class Stopped(Exception):
    """A person or the system asked to stop."""


class Runner:
    """Starts processes, keeps workers alive, and stops all that it started."""

    def __init__(self, data: Path) -> None:
        self.data = data
        data.mkdir(parents=True, exist_ok=True)
        # Evidence, logs and keys are for whoever runs this, and for nobody else of the machine.
        data.chmod(0o700)
        self.cluster: Cluster | None = None
        self.processes: dict[str, tuple[list[str], subprocess.Popen[bytes]]] = {}
        self.environment = os.environ | {"DJANGO_SETTINGS_MODULE": "palinode.project.settings"}
        self.environment["PALINODE_DATA"] = str(data)
        self.environment.setdefault("PALINODE_SETUP_TOKEN", secrets.token_urlsafe(12))
        for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
            signal.signal(number, self._asked_to_stop)

    def _asked_to_stop(self, number: int, frame: FrameType | None) -> None:
        raise Stopped

    def database(self) -> None:
        """Start the private PostgreSQL, unless PALINODE_DATABASE names another; then migrate."""
        if "PALINODE_DATABASE" not in os.environ:
            self.cluster = Cluster(folder_for(CHECKOUT, self.data))
            self.cluster.start()
            self.environment["PALINODE_DATABASE"] = self.cluster.url
            self.environment["PALINODE_DATABASE_FOLDER"] = str(self.cluster.folder)
        self.manage("migrate", "--verbosity=0")

    def manage(self, *arguments: str) -> None:
        """Run a management command to its end."""
        done = subprocess.run([sys.executable, "-m", "django", *arguments], env=self.environment, cwd=CHECKOUT)
        if done.returncode:
            raise SystemExit(f"Could not run {arguments[0]}; what it said stands above.")

    def start(self, name: str, *command: str) -> None:
        """Start a process in a session of its own, so that Ctrl-C reaches it through us."""
        log = (self.data / f"{name}.log").open("ab")
        process = subprocess.Popen(
            list(command),
            env=self.environment | (WORKER_ENVIRONMENT if name.startswith("worker") else {}),
            cwd=CHECKOUT,
            stdout=log,
            stderr=log,
            start_new_session=True,
        )
        self.processes[name] = (list(command), process)

    def workers(self, number: int) -> None:
        """Start background workers."""
        for one in range(1, number + 1):
            self.start(f"worker-{one}", *WORKER, "--concurrency=6", "--fetch-job-polling-interval=1")

    def server(self, host: str, port: int) -> None:
        """Start the web server."""
        self.start(
            "server",
            *(sys.executable, "-m", "uvicorn", "palinode.project.asgi:application", f"--host={host}"),
            *(f"--port={port}", "--no-access-log", "--no-proxy-headers", "--log-level=warning", "--lifespan=off"),
        )

    def wait(self, address: str) -> None:
        """Wait until the server answers; SystemExit if it does not."""
        deadline = time.monotonic() + _PATIENCE
        while time.monotonic() < deadline:
            try:
                _session(address)
            except (OSError, HTTPException):
                time.sleep(0.1)
            else:
                return
        raise SystemExit(f"The server does not answer; see {self.data / 'server.log'}.")

    def watch(self) -> None:
        """Start again what dies, until asked to stop."""
        while True:
            time.sleep(0.5)
            for name, (command, process) in list(self.processes.items()):
                if process.poll() is not None:
                    print(f"{name} ended ({process.returncode}); starting it again.", flush=True)
                    time.sleep(1)
                    self.start(name, *command)

    def stop(self) -> None:
        """Stop what was started, and nothing else."""
        for _, process in self.processes.values():
            if process.poll() is None:
                process.send_signal(signal.SIGTERM)
        deadline = time.monotonic() + 8
        for _, process in self.processes.values():
            try:
                process.wait(max(0.1, deadline - time.monotonic()))
            except subprocess.TimeoutExpired:
                pass
            _end_group(process.pid)
            process.wait()
        if self.cluster:
            self.cluster.stop()


def _end_group(pid: int) -> None:
    """End what is left of a process and its children."""
    try:
        os.killpg(pid, signal.SIGKILL)
    except ProcessLookupError:
        pass


Step = Callable[[Runner, str], None]
"""Something that another mode does besides, with the runner and the server's address."""


def announce(runner: Runner, address: str) -> None:
    """Say where the server is, and how the first account is made if there is none."""
    print(f"Palinode is at {address} (Ctrl-C stops it).", flush=True)
    if json.loads(_session(address))["first_visit"]:
        token = runner.environment["PALINODE_SETUP_TOKEN"]
        print(f"Make the owner's account: {address}?setup={token}", flush=True)


def _session(address: str) -> bytes:
    """Ask the server who is signed in, which any server that answers can say, under a name that it answers to."""
    names = os.environ.get("PALINODE_HOSTS", "").replace(",", " ").split()
    headers = {"Host": names[0].lstrip(".*")} if names else {}
    connection = HTTPConnection(address.removeprefix("http://").rstrip("/"), timeout=5)
    try:
        connection.request("GET", "/api/session/", headers=headers)
        return connection.getresponse().read()
    finally:
        connection.close()


def run(mode: str, before: Step | None = None, after: Step = announce, may_begin_anew: bool = False) -> None:
    """Run until asked to stop; ``before`` the database starts, and ``after`` the server answers, a mode's own steps.

    Only a mode that ``may_begin_anew`` can be told to forget all that is there: it holds nobody's evidence.
    """
    parser = argparse.ArgumentParser(prog=f"bin/{mode}")
    if may_begin_anew:
        parser.add_argument("--fresh", action="store_true", help="begin anew: forget all that is there")
    parser.add_argument("--port", type=int, default=int(os.environ.get("PALINODE_PORT", "8000")))
    options = parser.parse_args()
    data = Path(os.environ.get("PALINODE_DATA", CHECKOUT / "var" / mode)).resolve()
    with _only_one(data):
        if may_begin_anew and options.fresh:
            _forget(data)
        runner = Runner(data)
        try:
            _start(runner, options.port, before, after)
            runner.watch()
        except (Stopped, KeyboardInterrupt):
            print("\nStopping.", flush=True)
        except PostgresError as error:
            print(error, file=sys.stderr)
            sys.exit(2)
        finally:
            for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
                signal.signal(number, signal.SIG_IGN)
            runner.stop()


@contextmanager
def _only_one(data: Path) -> Iterator[None]:
    """Hold a lock on a data folder, so that two do not share it."""
    data.parent.mkdir(parents=True, exist_ok=True)
    with data.with_name(f".{data.name}.lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            address = data / "address"
            at = f" at {address.read_text()}" if address.exists() else ""
            raise SystemExit(f"Palinode runs already{at}, with the data in {data}.") from None
        yield


def _start(runner: Runner, wanted: int, before: Step | None, after: Step) -> None:
    host = os.environ.get("PALINODE_HOST", "127.0.0.1")
    port = free_port(wanted) if host == "127.0.0.1" else wanted
    if port != wanted:
        print(f"Port {wanted} is taken; using {port}.", flush=True)
    address = f"http://{host}:{port}/"
    if before:
        before(runner, address)
    runner.database()
    runner.workers(int(os.environ.get("PALINODE_WORKERS", "1")))
    runner.server(host, port)
    (runner.data / "address").write_text(address)
    database = runner.data / "database"
    database.touch(0o600)
    database.write_text(runner.environment["PALINODE_DATABASE"])
    runner.wait(address)
    after(runner, address)


def _forget(data: Path) -> None:
    """Delete what an earlier run kept; a folder that is not ours is left alone."""
    cluster = folder_for(CHECKOUT, data)
    if (cluster / "data" / "PG_VERSION").exists():
        Cluster(cluster).stop()
        shutil.rmtree(cluster)
    if data.exists():
        if any(data.iterdir()) and not (data / "secret-key").exists():
            raise SystemExit(f"{data} holds something that is not Palinode's; name another with PALINODE_DATA.")
        shutil.rmtree(data)


if __name__ == "__main__":
    run("serve")
