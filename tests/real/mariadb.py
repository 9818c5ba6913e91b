"""A MariaDB server from Debian's packages: private, without a network."""

import os
import pwd
import subprocess
import time
from pathlib import Path

USER = "mysql"
_PATIENCE = 60.0


class MariaDB:
    """A server with its data in a folder of its own, while it is entered."""

    def __init__(self, folder: Path, user: str = USER, port: int = 0) -> None:
        """``folder`` is made; the server runs as ``user``, who must be able to reach it.

        It listens on a ``port`` of loopback, if one is given.
        """
        self.folder, self.user, self.port = folder, user, port
        self.socket = folder / "socket"

    def __enter__(self) -> "MariaDB":
        self.folder.mkdir()
        if os.geteuid() == 0:
            account = pwd.getpwnam(self.user)
            os.chown(self.folder, account.pw_uid, account.pw_gid)
        install = [
            *("mariadb-install-db", "--no-defaults", f"--datadir={self.folder}", f"--user={self.user}"),
            "--auth-root-authentication-method=normal",
        ]
        subprocess.run(install, check=True, capture_output=True, timeout=120)
        command = [
            *("mariadbd", "--no-defaults", f"--datadir={self.folder}", f"--socket={self.socket}"),
            *(["--bind-address=127.0.0.1", f"--port={self.port}"] if self.port else ["--skip-networking"]),
            *(f"--user={self.user}", f"--pid-file={self.folder}/pid"),
            *(f"--log-error={self.folder}/log", "--innodb-flush-log-at-trx-commit=0"),
        ]
        self._process = subprocess.Popen(command, start_new_session=True)
        until = time.monotonic() + _PATIENCE
        while self._run("mariadb-admin", "ping", check=False).returncode:
            if time.monotonic() > until:
                raise RuntimeError(f"MariaDB does not start; see {self.folder}/log")
            time.sleep(0.1)
        return self

    def __exit__(self, *_: object) -> None:
        self._process.terminate()
        self._process.wait(30)

    def sql(self, *statements: str, database: str = "") -> None:
        """Run statements."""
        self.load(";\n".join([*statements, ""]).encode(), database)

    def load(self, script: bytes, database: str = "") -> None:
        """Run a script, say a dump."""
        self._run("mariadb", *([database] if database else []), told=script)

    def asked(self, query: str, database: str) -> list[list[str]]:
        """Return the rows that a query gives, as texts."""
        told = self._run("mariadb", "--batch", "--skip-column-names", database, told=query.encode()).stdout.decode()
        return [line.split("\t") for line in told.splitlines()]

    def dump(self, *options: str) -> bytes:
        """Return what mariadb-dump writes with these options and databases."""
        return self._run("mariadb-dump", *options).stdout

    def _run(
        self, command: str, *options: str, told: bytes = b"", check: bool = True
    ) -> "subprocess.CompletedProcess[bytes]":
        charset = [] if command == "mariadb-admin" else ["--default-character-set=utf8mb4"]
        return subprocess.run(
            [command, "--no-defaults", f"--socket={self.socket}", "--user=root", *charset, *options],
            input=told,
            check=check,
            capture_output=True,
            timeout=300,
        )
