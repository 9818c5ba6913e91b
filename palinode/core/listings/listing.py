"""A list of files: read from what sha256sum, find or ls print."""

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from enum import Enum

import numpy as np

PIECE = 1 << 20
LONGEST = 1 << 16
"""Bytes of a line; a longer one is an error that is said."""
UNKNOWN = -1
_DIGEST = re.compile(
    rb"^(?P<escaped>\\?)(?P<digest>[0-9a-fA-F]{128}|[0-9a-fA-F]{96}|[0-9a-fA-F]{64}|[0-9a-fA-F]{40}|[0-9a-fA-F]{32})"
    rb" [ *](?P<path>.+)$"
)
_FOUND = re.compile(rb"^(?P<size>\d+)[ \t]+(?P<time>\d{9,}(?:\.\d+)?)[ \t]+(?P<path>.+)$")
_LONG = re.compile(
    rb"^(?P<kind>[-a-z])[-rwxsStT]{9}[.+@]?\s+\d+\s+\S+\s+\S+\s+(?P<size>\d+(?:,\s*\d+)?)\s+"
    rb"(?:\w{3}\s+\d+\s+[\d:]+|\d{4}-\d\d-\d\d\s+[\d:.]+(?:\s+[-+]\d{4})?)\s(?P<path>.+)$"
)
_FOLDER = re.compile(rb"^(?P<folder>.*):$")
_TOTAL = re.compile(rb"^total \S+$")
_ESCAPES = {b"\\\\": b"\\", b"\\n": b"\n", b"\\r": b"\r"}
_ESCAPED = re.compile(rb"\\[\\nr]")
_LOOKED_AT = 40
"""Lines by which a list is recognised."""


class Form(Enum):
    """Which program wrote a list."""

    DIGESTS = "sha256sum or the like"
    FOUND = "find -printf"
    LONG = "ls -lR"


class ListingError(ValueError):
    """A list cannot be read; the message is for a person, and names the line."""


@dataclass(frozen=True)
class Listing:
    """The n files of a list, in order of their paths, each once."""

    paths: list[str]
    """From the folder that the list begins in, without ``./``."""
    size: np.ndarray
    """int64 (n,): bytes; UNKNOWN where the list does not say."""
    digest: np.ndarray
    """int64 (n,): the first eight bytes of the digest; 0 where the list has none."""
    unread: int = 0
    """Lines that say nothing of a file that could be understood."""

    def __len__(self) -> int:
        """Return the number of files."""
        return len(self.paths)

    def arrays(self) -> dict[str, np.ndarray]:
        """Return it as arrays, in which it is kept."""
        paths = "\0".join(self.paths).encode("utf-8", "surrogateescape")
        return {"paths": np.frombuffer(paths, np.uint8), "size": self.size, "digest": self.digest}

    @classmethod
    def of(cls, arrays: Mapping[str, np.ndarray], unread: int) -> "Listing":
        """Return a list that was kept as :meth:`arrays`."""
        paths = arrays["paths"].tobytes().decode("utf-8", "surrogateescape")
        return cls(paths.split("\0") if len(arrays["size"]) else [], arrays["size"], arrays["digest"], unread)


def recognise(beginning: bytes) -> Form | None:
    """Return which program wrote a list that begins like this; None if it is none."""
    lines = [line.rstrip(b"\r") for line in beginning.split(b"\n")[:_LOOKED_AT]][: -1 if b"\n" in beginning else None]
    lines = [line for line in lines if line]
    if not lines:
        return None
    if all(_DIGEST.match(line) for line in lines):
        return Form.DIGESTS
    if all(_FOUND.match(line) for line in lines):
        return Form.FOUND
    long = [line for line in lines if _LONG.match(line) or _TOTAL.match(line) or _FOLDER.match(line)]
    return Form.LONG if len(long) == len(lines) and any(map(_LONG.match, lines)) else None


class Reading:
    """Reads a list, a piece with each step. Of a file that is named twice the last line holds."""

    def __init__(self, form: Form) -> None:
        self._form = form
        self._found: dict[bytes, tuple[int, int]] = {}
        self._folder = b""
        self._unread = 0

    @property
    def listing(self) -> Listing:
        """What was read so far."""
        return made(self._found, self._unread)

    def steps(self, reads: Callable[[int], bytes]) -> Iterator[None]:
        """Read to the end. Raises ListingError."""
        rest, number = b"", 0
        while piece := reads(PIECE):
            *lines, rest = (rest + piece).split(b"\n")
            for line in lines:
                self._line(line)
            number += len(lines)
            if len(rest) > LONGEST:
                raise ListingError(f"Line {number + 1:,} is longer than {LONGEST:,} bytes, which no path is.")
            yield
        self._line(rest)

    def _line(self, line: bytes) -> None:
        line = line.removesuffix(b"\r")
        if line and not (self._long(line) if self._form is Form.LONG else self._plain(line)):
            self._unread += 1

    def _plain(self, line: bytes) -> bool:
        """Take a line that says all of a file; whether it does."""
        told = (_DIGEST if self._form is Form.DIGESTS else _FOUND).match(line)
        if told is None:
            return False
        path = told["path"]
        if self._form is Form.FOUND:
            self._found[_path(path)] = int(told["size"]), 0
            return True
        if told["escaped"]:
            path = _ESCAPED.sub(lambda one: _ESCAPES[one[0]], path)
        first = int.from_bytes(bytes.fromhex(told["digest"][:16].decode()), "big", signed=True)
        self._found[_path(path)] = UNKNOWN, first
        return True

    def _long(self, line: bytes) -> bool:
        """Take a line of ls, which names the folder before its files; whether it is one."""
        if told := _LONG.match(line):
            if told["kind"] == b"-":
                self._found[self._folder + told["path"]] = int(told["size"]), 0
            return True
        if head := _FOLDER.match(line):
            self._folder = _path(head["folder"] + b"/")
            return True
        return _TOTAL.match(line) is not None


def made(found: dict[bytes, tuple[int, int]], unread: int = 0) -> Listing:
    """Return a listing of files, each with its size and digest, or what stands for those that are not known."""
    paths = sorted(found)
    told = np.array([found[one] for one in paths], np.int64).reshape(-1, 2)
    return Listing([one.decode("utf-8", "surrogateescape") for one in paths], told[:, 0], told[:, 1], unread)


def _path(written: bytes) -> bytes:
    return written[2:] if written.startswith(b"./") else written
