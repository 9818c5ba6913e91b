"""Everything of a move as one archive to export, and to import again elsewhere.

The archive is a ZIP (stored, ZIP64): ``move.json`` says what the move is, ``evidence/N.warc.gz`` are the WARC files as
they were sealed, ``files/N`` the dumps, exports and lists of captures, ``tables/NAME.tsv`` its rows, ``SHA256SUMS`` the
digests of all of them, as ``sha256sum --check`` reads it. No passwords, cookies or accounts are in it.
"""

import hashlib
import io
import re
import struct
import zipfile
from collections.abc import Iterable, Iterator
from typing import Any, BinaryIO

import orjson
import psycopg
from django.contrib.auth.models import User
from django.core.exceptions import ValidationError
from django.core.files.base import File
from django.db import DatabaseError, transaction

from palinode.core import address as addresses
from palinode.core import connect, header
from palinode.core import rule as rules
from palinode.core.checks import registry
from palinode.core.expected import Expectation
from palinode.core.exports import json_listing
from palinode.core.exports.json_listing import MOST_MAPPINGS, MappingError
from palinode.core.options import OptionError
from palinode.core.rule import RuleError
from palinode.gather import zip_directory
from palinode.records import archive, check_options, decisions, disk, imported_judgements, outcomes
from palinode.records.folder import Folder
from palinode.records.models import (
    Capture,
    CaptureFile,
    Comparison,
    Decision,
    FurtherHost,
    Membership,
    Move,
    Segment,
    Side,
)
from palinode.work.importing import json_mappings
from palinode.work.move_setup import MOST_HOSTS
from palinode.work.retention import MOST_DAYS

FORMAT = "palinode-move-9"
ENTRIES = 5_000_000
"""Files of an archive at most."""
_DESCRIPTION = 10_000_000
"""Bytes of move.json."""
_SUM = 200
"""Bytes of a line of SHA256SUMS."""
_ENCRYPTED = 1
_CHUNK = 1 << 20
_BROKEN = (
    zipfile.BadZipFile,
    zipfile.LargeZipFile,
    struct.error,
    psycopg.Error,
    DatabaseError,
    ArithmeticError,
    AttributeError,
    EOFError,
    LookupError,
    OSError,
    RuntimeError,
    TypeError,
    ValidationError,
    ValueError,
    disk.DiskFull,
)
"""What reading something that is no archive of a move may end with."""
_NAME = re.compile(r"move\.json|SHA256SUMS|tables/[a-z]+\.tsv|evidence/\d+\.warc\.gz|files/\d+")
_NOT_CLEANED = ("password", "cookie", "header_value", "connect_to", "user_name", "header_name")
_HOST = ("base", "connect_to", "user_name", "sign_in", "header_name", "secrets_to_www")


class ArchiveRefused(ValueError):
    """An archive cannot be imported; the message is for a person."""


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


def export_move(move: Move) -> Iterator[bytes]:
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
        yield f"evidence/{segment.pk}.warc.gz", _file(move, segment.name)
    for kept in CaptureFile.objects.filter(capture__move=move):
        yield f"files/{kept.pk}", _file(move, kept.stored)


def _file(move: Move, name: str) -> Iterator[bytes]:
    with Folder(move.pk).open(name) as file:
        while chunk := file.read(_CHUNK):
            yield chunk


def _description(move: Move) -> dict[str, Any]:
    return {
        "format": FORMAT,
        **{name: getattr(move, name) for name in ("name", "kind", "stage", "rule", "keep_days", "listings")},
        "baseline": move.baseline_id,
        "sides": {side.which: _described(side) for side in move.sides.all()},
        "decided_by": {str(one.pk): one.author.username for one in move.decisions.select_related("author")},
    }


def _described(side: Side) -> dict[str, Any]:
    further = [{"place": one.place, **{name: getattr(one, name) for name in _HOST}} for one in side.further.all()]
    return {**{name: getattr(side, name) for name in _HOST}, "further": further}


def import_move(file: BinaryIO, name: str, owner: User) -> Move:
    """Make a move of an archive; who imports it owns it.

    Whoever wrote it is a stranger: nothing that it says of files, states, leases or persons is believed.
    Raises ArchiveRefused for what is no such archive, broken, or not as its digests say; then nothing is kept.
    """
    made: list[Folder] = []
    try:
        with zip_directory.opened(file, ENTRIES) as packed, transaction.atomic():
            return _import(packed, owner, made)
    except Exception as error:
        for folder in made:
            folder.clear()
        if not isinstance(error, _BROKEN):
            raise
        raise ArchiveRefused(f"{name}: {_said(error)}. Nothing of it was kept.") from None


def _said(error: Exception) -> str:
    if isinstance(error, ArchiveRefused | archive.Mismatch | zip_directory.TooMany | disk.DiskFull):
        return str(error)
    said = (str(error).splitlines() or [""])[0][:200]
    if isinstance(error, zipfile.BadZipFile | zipfile.LargeZipFile | NotImplementedError | EOFError | OSError):
        return f"it is no archive, or broken: {said}"
    return f"what it holds does not fit together: {said}"


def _import(packed: zipfile.ZipFile, owner: User, made: list[Folder]) -> Move:
    sums = _sums(packed)
    told = orjson.loads(_whole(packed, "move.json", sums, _DESCRIPTION))
    if not isinstance(told, dict) or told.get("format") != FORMAT:
        raise ArchiveRefused("it is not an archive of a move that this version reads")
    move = _move(told, owner)
    made.append(Folder(move.pk))
    for table in archive.TABLES:
        archive.stage(table, _parts(packed, f"tables/{table.name}.tsv", sums))
    for table in archive.TABLES:
        archive.put(table, move.pk, owner.pk)
    _decisions(move, told, owner)
    _comparisons(move)
    _evidence(packed, move, sums)
    _files(packed, move, sums)
    if told["baseline"] is not None:
        number = archive.new_number("capture", int(told["baseline"]))
        move.baseline = move.captures.filter(pk=number, which="source").first()
        move.save(update_fields=["baseline"])
    return move


def _move(told: dict[str, Any], owner: User) -> Move:
    _readable(told["rule"])
    given = {name: told[name] for name in ("name", "kind", "stage", "rule", "keep_days")}
    given["listings"] = _listings(told["listings"])
    if given["keep_days"] is not None and not 1 <= int(given["keep_days"]) <= MOST_DAYS:
        raise ArchiveRefused("it keeps files for no number of days that can be")
    move = Move(**given)
    move.full_clean(exclude=["baseline"])
    move.save()
    for which in Side.Which.values:
        _side(move, which, told["sides"][which])
    Membership.objects.create(move=move, user=owner, role=Membership.Role.OWNER)
    return move


def _listings(told: Any) -> list[dict[str, str]]:
    """Return the mappings of JSON listings as they are kept. Raises ArchiveRefused for what is none."""
    try:
        return [json_listing.plain(json_mappings.read(one)) for one in list(told)[:MOST_MAPPINGS]]
    except (OptionError, MappingError, TypeError, ValueError) as error:
        raise ArchiveRefused(f"a listing in JSON is none that can be read: {error}") from None


def _side(move: Move, which: str, told: dict[str, Any]) -> None:
    """Keep a side as it is described; secrets do not travel, and are typed anew."""
    side = Side(move=move, which=which, **_host(told))
    side.full_clean(exclude=_NOT_CLEANED)
    side.save()
    further = told.get("further", [])
    if len(further) > MOST_HOSTS or len({one["place"] for one in further}) < len(further):
        raise ArchiveRefused("it names hosts of a side that cannot be")
    for one in further:
        host = FurtherHost(side=side, place=one["place"], **_host(one))
        host.full_clean(exclude=_NOT_CLEANED)
        host.save()


def _host(told: dict[str, Any]) -> dict[str, Any]:
    """Return the fields of a host as it is described."""
    base = addresses.typed(told["base"])
    address, www = connect.written(base, told["connect_to"]) if told["connect_to"] else ("", False)
    if not header.may_be_sent(told["header_name"]):
        raise ArchiveRefused("it names a header that is no person's to set")
    return {
        "base": base,
        "connect_to": connect.lines(base, address, www),
        **{name: told[name] for name in ("user_name", "sign_in", "header_name")},
        "secrets_to_www": bool(told.get("secrets_to_www")),
    }


def _readable(rule: str) -> None:
    try:
        if len(rule) > rules.LIMIT:
            raise ArchiveRefused("its address rule is too long")
        rules.read(rule)
    except RuleError as error:
        raise ArchiveRefused(f"its address rule cannot be read: {error}") from None


def _decisions(move: Move, told: dict[str, Any], owner: User) -> None:
    """Let decisions point to the captures as they are numbered here, and say who is said to have decided."""
    by = {archive.new_number("decision", int(old)): str(name)[:150] for old, name in told["decided_by"].items()}
    changed = []
    for decision in move.decisions.all():
        if decision.kind == Decision.Kind.EXPECT:
            Expectation.read(decision.scope, decision.pk)
        try:
            decisions.marks(decision.scope)
            decisions.where(decision.scope)
        except ValueError:
            raise ArchiveRefused("a decision accepts what cannot be read") from None
        if decision.scope.get("what") == "baseline":
            decision.scope["capture"] = str(archive.new_number("capture", int(decision.scope["capture"])) or 0)
            changed.append(decision)
        if (author := by.get(decision.pk)) and author != owner.username:
            decision.reason = f"{decision.reason} (decided by {author})"
            changed.append(decision)
    Decision.objects.bulk_update(changed, ["reason", "scope"], batch_size=1_000)


def _comparisons(move: Move) -> None:
    """Refuse comparisons whose parts do not belong together, and options that no check has."""
    for revision in move.options.all():
        check_options.read(registry.BY_NAME[revision.check_name], revision.values)
    for outcome in move.outcomes.all():
        if fault := outcomes.fault_of(outcome):
            raise ArchiveRefused(f"an outcome of {outcome.check_name} does not hold together: {fault}")
    for comparison in move.comparisons.filter(state=Comparison.State.MADE):
        _readable(comparison.rule)
        comparison.judgement = comparison.judgements.last()
        comparison.save(update_fields=["judgement"])
        if not comparison.standing or not imported_judgements.states_fit(comparison):
            raise ArchiveRefused("the judgement of a comparison is none of its findings")
        imported_judgements.renumber_decisions(comparison, lambda old: archive.new_number("decision", old))
        if not imported_judgements.holds_together(comparison):
            raise ArchiveRefused("the findings of a comparison are not those of its checks")


def _evidence(packed: zipfile.ZipFile, move: Move, sums: dict[str, str]) -> None:
    """Store the WARC files, and rebuild from them what their rows say."""
    folder, came = Folder(move.pk), set()
    for name in sorted(one for one in sums if one.startswith("evidence/")):
        pk = archive.new_number("segment", int(name[9:].partition(".")[0]))
        segment = Segment.objects.filter(pk=pk, capture__move=move, let_go_at=None).first() if pk else None
        if segment is None:
            raise ArchiveRefused(f"{name} belongs to no capture")
        digest = hashlib.sha256()
        with packed.open(name) as entry:
            kept = folder.save(f"capture-{segment.capture_id}/{segment.pk:06}.warc.gz", File(_Hashing(entry, digest)))
        if digest.hexdigest() != sums[name] or sums[name] != segment.sha256:
            raise ArchiveRefused(f"{name} is not the file that was sealed: its SHA-256 differs")
        segment.name, segment.bytes = kept, packed.getinfo(name).file_size
        segment.save(update_fields=["name", "bytes"])
        came.add(segment.pk)
    lacking = Segment.objects.filter(capture__move=move, let_go_at=None).exclude(pk__in=came)
    if lacking.exists():
        raise ArchiveRefused(f"{lacking.count():,} WARC files are missing")


def _files(packed: zipfile.ZipFile, move: Move, sums: dict[str, str]) -> None:
    """Store the files that captures were made of."""
    folder = Folder(move.pk)
    lacking = {kept.pk: kept for kept in CaptureFile.objects.filter(capture__move=move)}
    for name in sorted(one for one in sums if one.startswith("files/")):
        kept = lacking.pop(archive.new_number("capture", int(name[6:])) or 0, None)
        if kept is None:
            raise ArchiveRefused(f"{name} belongs to no capture")
        digest = hashlib.sha256()
        with packed.open(name) as entry:
            kept.stored = folder.save(f"imports/{kept.sha256[:16]}", File(_Hashing(entry, digest)))
        if digest.hexdigest() != sums[name] or sums[name] != kept.sha256:
            raise ArchiveRefused(f"{name} is not the file that was imported: its SHA-256 differs")
        kept.bytes = packed.getinfo(name).file_size
        # What it holds is read again from the file itself, when it is wanted.
        kept.contents["version"] = 0
        kept.save(update_fields=["stored", "bytes", "contents"])
    if lacking or move.captures.filter(kind__in=Capture.SITE_FILES, file=None).exists():
        raise ArchiveRefused("files that captures were made of are missing")


class _Hashing:
    """A file whose digest is taken as it is read, as long as the disk has room for it."""

    def __init__(self, file: Any, digest: Any) -> None:
        self.file, self.digest = file, digest

    def read(self, size: int = -1) -> bytes:
        disk.mind()
        data: bytes = self.file.read(size)
        self.digest.update(data)
        return data


def _sums(packed: zipfile.ZipFile) -> dict[str, str]:
    """Return name to digest of all that is in an archive."""
    names = packed.namelist()
    for name in names:
        if not _NAME.fullmatch(name):
            raise ArchiveRefused(f"“{name[:100]}” is nothing that an archive of a move holds")
    if len(set(names)) != len(names):
        raise ArchiveRefused("it holds a file twice")
    if any(one.compress_type != zipfile.ZIP_STORED or one.flag_bits & _ENCRYPTED for one in packed.infolist()):
        raise ArchiveRefused("its files are compressed, which those of an archive of a move are not (zip -0)")
    if sum(one.file_size for one in packed.infolist()) > _length(packed):
        raise ArchiveRefused("it holds more than it is long")
    if "SHA256SUMS" not in names:
        raise ArchiveRefused("its SHA256SUMS is missing")
    with packed.open("SHA256SUMS") as entry:
        lines = entry.read(len(names) * _SUM).decode("ascii", "replace").splitlines()
    sums = {name: digest for digest, _, name in (line.partition("  ") for line in lines)}
    if set(sums) != set(names) - {"SHA256SUMS"}:
        raise ArchiveRefused("it does not hold what its SHA256SUMS names")
    return sums


def _length(packed: zipfile.ZipFile) -> int:
    assert packed.fp is not None
    return packed.fp.seek(0, 2)


def _parts(packed: zipfile.ZipFile, name: str, sums: dict[str, str]) -> Iterator[bytes]:
    """Yield an entry, and refuse it at its end if it is not what was exported."""
    if name not in sums:
        raise ArchiveRefused(f"{name} is missing")
    digest = hashlib.sha256()
    with packed.open(name) as entry:
        while chunk := entry.read(_CHUNK):
            digest.update(chunk)
            yield chunk
    if digest.hexdigest() != sums[name]:
        raise ArchiveRefused(f"{name} was changed: its SHA-256 differs")


def _whole(packed: zipfile.ZipFile, name: str, sums: dict[str, str], most: int) -> bytes:
    if name in sums and packed.getinfo(name).file_size > most:
        raise ArchiveRefused(f"{name} is larger than any can be")
    return b"".join(_parts(packed, name, sums))
