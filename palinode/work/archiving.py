"""Everything of a move as one archive to take away, and to bring in again elsewhere.

The archive is a ZIP (stored, ZIP64): ``move.json`` says what the move is, ``evidence/N.warc.gz`` are the WARC
files as they were sealed, ``tables/NAME.tsv`` its rows, ``SHA256SUMS`` the digests of all of them, as
``sha256sum --check`` reads it. No passwords, cookies or accounts are in it.
"""

import hashlib
import io
import re
import zipfile
from collections.abc import Iterable, Iterator
from typing import Any, BinaryIO

import orjson
from django.contrib.auth.models import User
from django.core.files.base import File
from django.core.files.storage import storages
from django.db import DatabaseError, transaction

from palinode.core.rule import RuleError
from palinode.core.rule import read as read_rule
from palinode.records import archive
from palinode.records.models import Capture, Membership, Move, Segment, Side

FORMAT = "palinode-move-1"
TOTAL = 500_000_000_000
"""Bytes of an archive, unpacked."""
_CHUNK = 1 << 20
_NAME = re.compile(r"move\.json|SHA256SUMS|tables/[a-z]+\.tsv|evidence/\d+\.warc\.gz")
_SIDE = ("base", "connect_to", "user_name", "sign_in", "header_name")


class ArchiveRefused(ValueError):
    """An archive cannot be brought in; the message is for a person."""


class _Sink(io.RawIOBase):
    """What a ZIP is written to: bytes to be sent on."""

    def __init__(self) -> None:
        self.held = bytearray()
        self.at = 0

    def writable(self) -> bool:
        return True

    def write(self, data: Any) -> int:
        self.held += data
        self.at += len(data)
        return len(data)

    def tell(self) -> int:
        return self.at

    def taken(self) -> bytes:
        data = bytes(self.held)
        self.held.clear()
        return data


def take(move: Move) -> Iterator[bytes]:
    """Yield the archive of a move."""
    sink, sums = _Sink(), []
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_STORED, allowZip64=True) as packed:
        for name, parts in _entries(move):
            digest = hashlib.sha256()
            with packed.open(name, "w", force_zip64=True) as entry:
                for data in parts:
                    digest.update(data)
                    entry.write(data)
                    if len(sink.held) > _CHUNK:
                        yield sink.taken()
            sums.append(f"{digest.hexdigest()}  {name}\n")
        packed.writestr("SHA256SUMS", "".join(sums))
    yield sink.taken()


def _entries(move: Move) -> Iterator[tuple[str, Iterable[bytes]]]:
    yield "move.json", [orjson.dumps(_description(move), option=orjson.OPT_INDENT_2)]
    for table in archive.TABLES:
        yield f"tables/{table.name}.tsv", archive.rows(table, move.pk)
    for segment in Segment.objects.filter(capture__move=move, let_go_at=None):
        yield f"evidence/{segment.pk}.warc.gz", _file(segment.name)


def _file(name: str) -> Iterator[bytes]:
    with storages["evidence"].open(name) as file:
        while chunk := file.read(_CHUNK):
            yield chunk


def _description(move: Move) -> dict[str, Any]:
    return {
        "format": FORMAT,
        **{name: getattr(move, name) for name in ("name", "kind", "stage", "rule", "keep_days")},
        "baseline": move.baseline_id,
        "sides": {side.which: {name: getattr(side, name) for name in _SIDE} for side in move.sides.all()},
        "decided_by": {str(one.pk): one.author.username for one in move.decisions.select_related("author")},
    }


def bring(file: BinaryIO, name: str, owner: User) -> Move:
    """Make a move of an archive; who brings it owns it.

    Raises ArchiveRefused for what is no such archive, broken, or not as its digests say; then nothing is kept.
    """
    stored: list[str] = []
    try:
        with zipfile.ZipFile(file) as packed, transaction.atomic():
            return _bring(packed, owner, stored)
    except (ArchiveRefused, archive.Mismatch) as error:
        said = str(error)
    except (zipfile.BadZipFile, zipfile.LargeZipFile, NotImplementedError, RuntimeError, EOFError) as error:
        said = f"it is no archive, or broken: {error}"
    except (DatabaseError, KeyError, TypeError, ValueError) as error:
        said = f"what it holds does not fit together: {str(error).splitlines()[0][:200]}"
    for one in stored:
        storages["evidence"].delete(one)
    raise ArchiveRefused(f"{name}: {said}. Nothing of it was kept.")


def _bring(packed: zipfile.ZipFile, owner: User, stored: list[str]) -> Move:
    sums = _sums(packed)
    told = orjson.loads(_whole(packed, "move.json", sums))
    if told.get("format") != FORMAT:
        raise ArchiveRefused("it is not an archive of a move that this version reads")
    move = _move(told, owner)
    for table in archive.TABLES:
        archive.bring(table, _parts(packed, f"tables/{table.name}.tsv", sums))
    for table in archive.TABLES:
        archive.put(table, move.pk, owner.pk)
    for old, author in told["decided_by"].items():
        if (pk := archive.new_number("decision", int(old))) is not None and author != owner.username:
            decision = move.decisions.get(pk=pk)
            decision.reason = f"{decision.reason} (decided by {author})"
            decision.save(update_fields=["reason"])
    # An installation elsewhere works on nothing of it.
    Capture.objects.filter(move=move).exclude(state=Capture.State.CLOSED).update(
        state=Capture.State.CLOSED, why="was not closed when it was taken away"
    )
    _evidence(packed, move, sums, stored)
    if told["baseline"] is not None:
        move.baseline_id = archive.new_number("capture", int(told["baseline"]))
        move.save(update_fields=["baseline"])
    return move


def _move(told: dict[str, Any], owner: User) -> Move:
    try:
        read_rule(told["rule"])
    except RuleError as error:
        raise ArchiveRefused(f"its address rule cannot be read: {error}") from None
    move = Move(**{name: told[name] for name in ("name", "kind", "stage", "rule", "keep_days")})
    move.full_clean(exclude=["baseline"])
    move.save()
    for which in Side.Which.values:
        side = Side(move=move, which=which, **{name: told["sides"][which][name] for name in _SIDE})
        side.full_clean(exclude=["password", "cookie", "header_value", "connect_to", "user_name", "header_name"])
        side.save()
    Membership.objects.create(move=move, user=owner, role=Membership.Role.OWNER)
    return move


def _evidence(packed: zipfile.ZipFile, move: Move, sums: dict[str, str], stored: list[str]) -> None:
    for name in sorted(one for one in sums if one.startswith("evidence/")):
        pk = archive.new_number("segment", int(name[9:].partition(".")[0]))
        segment = Segment.objects.filter(pk=pk).first() if pk else None
        if segment is None:
            raise ArchiveRefused(f"{name} belongs to no capture")
        digest = hashlib.sha256()
        with packed.open(name) as entry:
            kept = storages["evidence"].save(
                f"move-{move.pk}/capture-{segment.capture_id}/{segment.pk:06}.warc.gz", File(_Hashing(entry, digest))
            )
        stored.append(kept)
        if digest.hexdigest() != sums[name] or sums[name] != segment.sha256:
            raise ArchiveRefused(f"{name} is not the file that was sealed: its SHA-256 differs")
        segment.name, segment.verified_at, segment.fault = kept, None, ""
        segment.save(update_fields=["name", "verified_at", "fault"])
    lacking = Segment.objects.filter(capture__move=move, let_go_at=None).exclude(name__in=stored)
    if lacking.exists():
        raise ArchiveRefused(f"{lacking.count():,} WARC files are missing")


class _Hashing:
    """A file whose digest is taken as it is read."""

    def __init__(self, file: Any, digest: Any) -> None:
        self.file, self.digest = file, digest

    def read(self, size: int = -1) -> bytes:
        data: bytes = self.file.read(size)
        self.digest.update(data)
        return data


def _sums(packed: zipfile.ZipFile) -> dict[str, str]:
    """Return name to digest of all that is in an archive."""
    names = packed.namelist()
    for name in names:
        if not _NAME.fullmatch(name):
            raise ArchiveRefused(f"“{name[:100]}” is nothing that an archive of a move holds")
    if sum(one.file_size for one in packed.infolist()) > TOTAL:
        raise ArchiveRefused(f"it is larger than {TOTAL // 10**9:,} GB when unpacked")
    if "SHA256SUMS" not in names:
        raise ArchiveRefused("its SHA256SUMS is missing")
    with packed.open("SHA256SUMS") as entry:
        lines = entry.read(50_000_000).decode("ascii", "replace").splitlines()
    sums = {name: digest for digest, _, name in (line.partition("  ") for line in lines)}
    if set(sums) != set(names) - {"SHA256SUMS"}:
        raise ArchiveRefused("it does not hold what its SHA256SUMS names")
    return sums


def _parts(packed: zipfile.ZipFile, name: str, sums: dict[str, str]) -> Iterator[bytes]:
    """Yield an entry, and refuse it at its end if it is not what was taken away."""
    if name not in sums:
        raise ArchiveRefused(f"{name} is missing")
    digest = hashlib.sha256()
    with packed.open(name) as entry:
        while chunk := entry.read(_CHUNK):
            digest.update(chunk)
            yield chunk
    if digest.hexdigest() != sums[name]:
        raise ArchiveRefused(f"{name} was changed: its SHA-256 differs")


def _whole(packed: zipfile.ZipFile, name: str, sums: dict[str, str]) -> bytes:
    return b"".join(_parts(packed, name, sums))
