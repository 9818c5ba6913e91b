"""Reads WARC 1.0 and 1.1 (ISO 28500) from a stream: plain, a gzip member a record, or one gzip member for all.

What is broken raises :class:`Damaged` with the place; what came before it was yielded. Memory is bounded
whatever the file says of itself.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import BinaryIO

from isal import isal_zlib

from palinode.gather.exchange import BODY_LIMIT
from palinode.gather.warc.base32 import sha1

BLOCK_LIMIT = BODY_LIMIT + 1_000_000
"""Bytes of a record's block that are read; of a longer one the rest is passed over."""
_HEAD_LIMIT = 65_536
_CHUNK = 65_536
_AT_ONCE = 1_000_000
_FOLDED = frozenset(" \t")
_GZIP = b"\x1f\x8b"


class Damaged(ValueError):
    """A WARC file cannot be read on; ``offset`` is the place in the file, the message is for a person."""

    def __init__(self, offset: int, message: str) -> None:
        super().__init__(f"at byte {offset:,}: {message}")
        self.offset, self.message = offset, message

    def __reduce__(self) -> tuple[type["Damaged"], tuple[int, str]]:
        """Travel from a reading process."""
        return Damaged, (self.offset, self.message)


@dataclass(frozen=True, slots=True)
class Record:
    """One record."""

    offset: int
    """Where it begins in the file: its gzip member, if it has one of its own."""
    fields: dict[str, str]
    """Names in lower case; of a repeated one the last."""
    block: bytes
    """At most BLOCK_LIMIT bytes."""
    length: int
    """Bytes of the block as declared."""

    @property
    def kind(self) -> str:
        """``response``, ``revisit``, ``request``, ``warcinfo`` and so on."""
        return self.fields.get("warc-type", "").lower()

    @property
    def address(self) -> str:
        """The address that it is of, as written; WARC 1.0 was often written with angle brackets."""
        return self.fields.get("warc-target-uri", "").strip("<>")

    def fault(self) -> str:
        """Return in words what of its digests does not fit; empty if all do, or none is known to us."""
        if self.length > BLOCK_LIMIT:
            return ""
        for name, data in (("warc-block-digest", self.block), ("warc-payload-digest", None)):
            wanted = self.fields.get(name, "")
            if not wanted.lower().startswith("sha1:") or (data is None and self.kind != "response"):
                continue
            if sha1(self._payload() if data is None else data) != wanted[5:].strip().upper():
                return f"its {name.removeprefix('warc-').replace('-', ' ')} does not fit"
        return ""

    def _payload(self) -> memoryview:
        at = self.block.find(b"\r\n\r\n")
        return memoryview(self.block)[at + 4 if at >= 0 else 0 :]


def records(file: BinaryIO) -> Iterator[Record]:
    """Yield the records of a file from where it stands.

    Raises Damaged where it cannot be read on.
    """
    stream = _Stream(file)
    while stream.more():
        yield _record(stream)


def begins(file: BinaryIO) -> bool:
    """Whether a WARC record begins where a file stands; False for an empty one.

    Raises Damaged if something else does. No more of it is read than that takes.
    """
    stream = _Stream(file)
    if not stream.more():
        return False
    if not stream.ready.startswith(b"WARC/", stream.used):
        raise Damaged(0, "no WARC record begins here")
    return True


def _record(stream: "_Stream") -> Record:
    offset = stream.offset
    head = stream.head()
    version, _, lines = head.partition(b"\n")
    if not version.startswith(b"WARC/"):
        raise Damaged(offset, "no WARC record begins here")
    fields: dict[str, str] = {}
    name = ""
    for line in lines.decode("utf-8", "replace").split("\n"):
        if line[:1] in _FOLDED and name:
            fields[name] += " " + line.strip()
            continue
        name, _, value = line.partition(":")
        name = name.strip().lower()
        fields[name] = value.strip()
    declared = fields.get("content-length", "")
    if not declared.isdigit() or len(declared) > 15:
        raise Damaged(offset, "the record does not say how long it is")
    length = int(declared)
    block = stream.take(min(length, BLOCK_LIMIT))
    skipped = stream.skip(length - len(block)) if len(block) == BLOCK_LIMIT else 0
    if len(block) + skipped < length:
        raise Damaged(offset, f"the file breaks off: {length:,} bytes were to come, {len(block) + skipped:,} did")
    stream.end()
    return Record(offset, fields, block, length)


class _Stream:
    """Bytes of a file, unpacked if they are packed, with the place where each record began."""

    def __init__(self, file: BinaryIO) -> None:
        self.file = file
        self.at = file.tell()
        """Of the next byte of ``raw`` in the file."""
        self.raw = b""
        self.ready = b""
        self.used = 0
        """Bytes of ``ready`` that are taken already."""
        self.member: isal_zlib.Decompress | None = None
        self.member_at = self.at
        self.packed = False

    @property
    def offset(self) -> int:
        """Where the record that comes next begins."""
        return self.member_at if self.packed else self.at - (len(self.ready) - self.used)

    def more(self) -> bool:
        """Whether anything but line ends is left."""
        while True:
            while self.used < len(self.ready) and self.ready[self.used] in b"\r\n":
                self.used += 1
            if self.used < len(self.ready):
                return True
            if not self._fill():
                return False

    def head(self) -> bytes:
        """Take a record's head, without the blank line at its end; line ends become one newline."""
        end = self.ready.find(b"\r\n\r\n", self.used, self.used + _HEAD_LIMIT)
        if end >= 0 and self.ready.find(b"\n\n", self.used, end) < 0:
            found_whole = self.ready[self.used : end]
            self.used = end + 4
            return found_whole.replace(b"\r\n", b"\n")
        parts = bytearray()
        while True:
            start = max(0, len(parts) - 3)
            parts += self.ready[self.used :]
            self.used = len(self.ready)
            ends = [(parts.find(mark, start), len(mark)) for mark in (b"\r\n\r\n", b"\n\n")]
            found = min((one for one in ends if one[0] >= 0), default=None)
            if found:
                self._put_back(bytes(parts[sum(found) :]))
                return bytes(parts[: found[0]]).replace(b"\r\n", b"\n")
            if len(parts) > _HEAD_LIMIT:
                raise Damaged(self.member_at if self.packed else self.at - len(parts), "no WARC record begins here")
            if not self._fill():
                raise Damaged(self.member_at if self.packed else self.at - len(parts), "the file breaks off in a head")

    def take(self, size: int) -> bytes:
        """Take up to ``size`` bytes; fewer if the file ends."""
        if self.used + size <= len(self.ready):
            self.used += size
            return self.ready[self.used - size : self.used]
        parts = [self.ready[self.used :]]
        held = len(parts[0])
        self.used = len(self.ready)
        while held < size and self._fill():
            part = self.ready[: size - held]
            self.used = len(part)
            parts.append(part)
            held += len(part)
        return b"".join(parts)

    def skip(self, size: int) -> int:
        """Pass over up to ``size`` bytes; return how many there were."""
        passed = 0
        while passed < size:
            part = len(self.take(min(size - passed, _AT_ONCE)))
            if not part:
                break
            passed += part
        return passed

    def end(self) -> None:
        """Take the line ends after a block, so that a member of its own is used up."""
        while self.used < len(self.ready) and self.ready[self.used] in b"\r\n":
            self.used += 1

    def _put_back(self, data: bytes) -> None:
        self.ready, self.used = data, 0

    def _fill(self) -> bool:
        """Make more bytes ready, now that all are used; False at the end of the file."""
        while True:
            tail = self.member is not None and bool(self.member.unconsumed_tail)
            if not self.raw and not tail:
                self.raw = self.file.read(_CHUNK)
            if not self.raw and not tail:
                if self.member is None:
                    return False
                if not self._inflate():
                    raise Damaged(self.member_at, "the file breaks off in a packed record")
                return True
            if self.member is None:
                if self.raw[:2] != _GZIP and len(self.raw) < 2:
                    self.raw += self.file.read(_CHUNK)
                if self.raw[:2] != _GZIP:
                    if self.packed:
                        raise Damaged(self.at, "something that is no packed record follows the last one")
                    self.ready, self.used = self.raw, 0
                    self.at += len(self.raw)
                    self.raw = b""
                    return True
                self.packed, self.member_at = True, self.at
                self.member = isal_zlib.decompressobj(31)
            if self._inflate():
                return True

    def _inflate(self) -> bool:
        assert self.member is not None
        given = self.member.unconsumed_tail or self.raw
        try:
            data = self.member.decompress(given, _AT_ONCE)
        except isal_zlib.error as error:  # type: ignore[misc]
            raise Damaged(self.member_at, f"its compression is broken ({error})") from None
        if self.member.eof:
            left = self.member.unused_data
            self.at += len(given) - len(left)
            self.raw, self.member = left, None
        else:
            self.at += len(given) - len(self.member.unconsumed_tail)
            self.raw = b""
        self.ready, self.used = data, 0
        return bool(data)
