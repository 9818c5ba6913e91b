"""The tables of a move: how each travels, and what it may hold when it is imported."""

from collections.abc import Iterable
from dataclasses import dataclass, field

from django.db import models

from palinode.core import rule
from palinode.core.checks import registry
from palinode.core.checks.pages import kinds
from palinode.core.discovery import Discovery
from palinode.core.fields import Field
from palinode.core.scope import AskedFor
from palinode.records.archive import shapes
from palinode.records.captures import PAGED
from palinode.records.judgements import RECORD
from palinode.records.models import (
    Address,
    Answer,
    Body,
    Capture,
    CaptureFile,
    CheckColumn,
    CheckFinding,
    CheckItems,
    CheckOptions,
    CheckOutcome,
    CheckRowBlock,
    Comparison,
    ComparisonCapture,
    ComparisonCheck,
    ComparisonFindings,
    Decision,
    Facts,
    Frontier,
    HeaderSet,
    Import,
    ImportedAddress,
    Judgement,
    Pattern,
    Segment,
    SetMember,
    Target,
)

_OF_MOVE = "move_id = %(move)s"
_OF_CAPTURE = "capture_id IN (SELECT id FROM records_capture WHERE move_id = %(move)s)"
_OF_OUTCOME = "outcome_id IN (SELECT id FROM records_checkoutcome WHERE move_id = %(move)s)"
_OF_COMPARISON = "comparison_id IN (SELECT id FROM records_comparison WHERE move_id = %(move)s)"

_NOT_NEGATIVE = (models.IntegerField, models.SmallIntegerField, models.BigIntegerField)
_MAY_BE_NEGATIVE = frozenset(
    {
        "ident",
        "target",
        "key",
        "whole",
        "edge_sum",
        "template",
        "facts",
        "seen",
        "subject",
        "canonical",
        "example",
        "header_set",
    }
)
"""Columns of identities and digests, which are signed."""
_TEXT = 1_000_000
"""Characters of a text at most."""
_PACKED = 60_000_000
"""Bytes of a column of bytes at most."""


@dataclass(frozen=True)
class Table:
    """How a table of a move travels."""

    model: type[models.Model]
    where: str
    """Which rows are the move's."""
    refers: dict[str, str] = field(default_factory=dict)
    """Column to the table whose numbers it holds."""
    may_lack: frozenset[str] = frozenset()
    """Those of them that may point to nothing."""
    numbered: bool = False
    """Its rows have numbers of their own, given by the database."""
    given: dict[str, str] = field(default_factory=dict)
    """Column to what it becomes, in SQL, whatever the archive says."""
    holds: dict[str, str] = field(default_factory=dict)
    """Conditions in SQL that each row must meet, with the message for a row that does not."""
    json: dict[str, shapes.Shape] = field(default_factory=dict)
    """Column of JSON to the shape that it must have."""
    most: int = 100_000_000
    """Rows at most."""

    @property
    def name(self) -> str:
        """The table's name, without the prefix."""
        return str(self.model._meta.db_table).removeprefix("records_")

    @property
    def columns(self) -> list[str]:
        """Its columns; whose account a row names does not travel, accounts are other people's elsewhere."""
        found = [str(one.column) for one in self.model._meta.concrete_fields]
        return [one for one in found if one not in ("author_id", "revoker_id", "pk")]

    @property
    def bounds(self) -> dict[str, str]:
        """What must hold for each row: by the kinds of its columns, and as ``holds`` says."""
        found = {}
        for one in self.model._meta.concrete_fields:
            name = f's."{one.column}"'
            if isinstance(one, models.ForeignKey) or one.column not in self.columns:
                continue
            if one.choices:
                words = ", ".join(f"'{value}'" for value, _ in one.flatchoices)
                found[f"{name} IN ({words})"] = f"{one.column} is none of {words}"
            elif isinstance(one, models.CharField) and one.max_length:
                found[f"length({name}) <= {one.max_length}"] = f"{one.column} is too long"
            elif isinstance(one, models.TextField):
                found[f"length({name}) <= {_TEXT}"] = f"{one.column} is too long"
            elif isinstance(one, models.BinaryField):
                found[f"length({name}) <= {_PACKED}"] = f"{one.column} is too long"
            elif isinstance(one, _NOT_NEGATIVE) and one.column not in _MAY_BE_NEGATIVE:
                found[f"{name} >= 0"] = f"{one.column} is less than nothing"
        return found | self.holds


def _words(words: Iterable[str]) -> str:
    """Return words as a list in SQL."""
    return ", ".join(f"'{word}'" for word in words)


def _codes(column: str, codes: type) -> dict[str, str]:
    """Return the bound of a column that holds members of an enumeration."""
    known = ", ".join(str(int(one)) for one in codes)  # type: ignore[attr-defined]
    return {f"s.{column} IN ({known})": f"{column} is no number that is known here"}


_KNOWN = {f"s.known <= {int(~Discovery(0))}": "known has bits that are none"}
_ADDRESSES = {f"s.{side}_address ~ '^https?://'": f"{side}_address is no address" for side in ("left", "right")}
_STATUS = {"s.status <= 999": "status is none of HTTP's"}

TABLES = (
    Table(
        Capture,
        _OF_MOVE,
        {"parent_id": "capture"},
        frozenset({"parent_id"}),
        numbered=True,
        # An installation elsewhere works on nothing of it.
        given={
            "state": "'closed'",
            "why": "CASE WHEN s.state = 'closed' THEN s.why ELSE 'was not closed when it was exported' END",
            # Its set says to which capture it belongs; that has another number here.
            "asking": "s.asking - 'head'",
        },
        holds={
            "s.parent_id < s.id": "it goes on from a later one",
            f"(s.which = 'destination' AND s.kind IN ({_words(PAGED)})) = (s.round IS NOT NULL)": (
                "only rounds have a number"
            ),
            "s.seconds BETWEEN 0 AND 1e9": "it took no such time",
        },
        json={
            "settings": shapes.POLICY,
            "access": shapes.ACCESS,
            "again": shapes.AGAIN,
            "asking": shapes.ASKING,
            "limits": shapes.TEXTS,
            "ignored": shapes.IGNORED,
            "sample": shapes.SAMPLE,
            "judgement": shapes.JUDGEMENT,
        },
        most=10_000,
    ),
    Table(
        CaptureFile,
        _OF_CAPTURE,
        {"capture_id": "capture"},
        # What it is called, and how large it is, is told by the file that came with it.
        given={"stored": "''", "bytes": "0", "fault": "''", "verified_at": "NULL"},
        holds={"s.sha256 ~ '^[0-9a-f]{64}$'": "its digest is none"},
        json={"contents": shapes.CONTENTS},
        most=10_000,
    ),
    Table(
        SetMember,
        "head_id IN (SELECT id FROM records_capture WHERE move_id = %(move)s)",
        {"head_id": "capture", "capture_id": "capture"},
        numbered=True,
        most=10_000,
    ),
    Table(
        Segment,
        _OF_CAPTURE,
        {"capture_id": "capture"},
        numbered=True,
        # What it is called, and how large it is, is told by the file that came with it.
        given={"name": "''", "bytes": "0", "fault": "''", "verified_at": "NULL"},
        holds={"s.sha256 ~ '^[0-9a-f]{64}$'": "its digest is none"},
        most=5_000_000,
    ),
    Table(Address, _OF_MOVE, holds={"length(s.text) <= 24000": "an address is too long"}),
    Table(
        Facts,
        _OF_MOVE,
        holds={
            f"length(s.prints) = {8 * len(Field)}": "its prints are none of a page",
            "length(s.targets) = 8 * length(s.places)": "its targets and places do not belong together",
            "s.compared <= length(s.places)": "it compares more than it has",
        },
    ),
    Table(HeaderSet, _OF_MOVE, json={"fields": shapes.HEADER_FIELDS}),
    Table(Body, _OF_MOVE, {"segment_id": "segment"}, holds={"length(s.digest) = 32": "a digest is none"}),
    Table(ImportedAddress, _OF_MOVE, holds=_KNOWN),
    Table(
        Frontier,
        _OF_CAPTURE,
        {"capture_id": "capture"},
        given={"lease": "0"},
        holds={
            "s.state <= 3": "state is none",
            **_KNOWN,
            **_codes("asked_for", AskedFor),
        },
    ),
    Table(
        Answer,
        _OF_CAPTURE,
        {"capture_id": "capture", "segment_id": "segment"},
        frozenset({"segment_id"}),
        holds={**_KNOWN, **_STATUS, "length(s.body) = 32": "a digest is none"},
    ),
    Table(Target, _OF_CAPTURE, {"capture_id": "capture"}),
    Table(Pattern, _OF_CAPTURE, {"capture_id": "capture"}, numbered=True, most=1_000_000),
    Table(
        Comparison,
        _OF_MOVE,
        {"left_id": "capture", "right_id": "capture"},
        numbered=True,
        given={
            "state": "CASE WHEN s.state = 'waiting' THEN 'failed' ELSE s.state END",
            "why": "CASE WHEN s.state = 'waiting' THEN 'It was not made when the move was exported.' ELSE s.why END",
            # It is imported after its comparison.
            "judgement_id": "NULL",
        },
        holds={f"length(s.rule) <= {rule.LIMIT}": "its rule is too long"},
        json={"crossing": shapes.CROSSING},
        most=10_000,
    ),
    Table(
        Decision,
        _OF_MOVE,
        {"supersedes_id": "decision"},
        frozenset({"supersedes_id"}),
        numbered=True,
        holds={
            "s.supersedes_id < s.id": "it supersedes a later one",
            "length(s.reason) <= 2500": "its reason is too long",
        },
        json={"scope": shapes.SCOPE},
        most=100_000,
    ),
    Table(
        CheckOptions,
        _OF_MOVE,
        numbered=True,
        holds={f"s.check_name IN ({_words(registry.BY_NAME)})": "its check is not known here"},
        json={"values": shapes.OPTIONS},
        most=10_000,
    ),
    Table(
        CheckOutcome,
        _OF_MOVE,
        numbered=True,
        # What it was made of has other numbers here.
        given={"digest": "'imported-' || s.id"},
        holds={f"s.check_name IN ({_words(registry.BY_NAME)})": "its check is not known here"},
        json={"counts": shapes.COUNTS, "groups": shapes.GROUPS, "unseen": shapes.TEXTS},
        most=100_000,
    ),
    Table(CheckRowBlock, _OF_OUTCOME, {"outcome_id": "checkoutcome"}),
    Table(
        CheckColumn,
        _OF_OUTCOME,
        {"outcome_id": "checkoutcome"},
        holds={"s.kind IN ('u1', 'i2', 'i4', 'i8', 'f4')": "its numbers are none"},
        most=1_000_000,
    ),
    Table(
        CheckItems,
        _OF_OUTCOME,
        {"outcome_id": "checkoutcome", "pages_id": "checkoutcome"},
        frozenset({"pages_id"}),
    ),
    Table(
        CheckFinding,
        _OF_OUTCOME,
        {"outcome_id": "checkoutcome"},
        holds={
            f"s.kind IN ({_words(registry.KINDS)})": "its kind is not known here",
            **{
                f"s.kind NOT IN ({_words(kind.word for kind in kinds.ALL)}) OR {said}": why
                for said, why in _ADDRESSES.items()
            },
        },
    ),
    Table(
        ComparisonCapture,
        _OF_COMPARISON,
        {"comparison_id": "comparison", "capture_id": "capture"},
        numbered=True,
        most=100_000,
    ),
    Table(
        ComparisonCheck,
        _OF_COMPARISON,
        {"comparison_id": "comparison", "outcome_id": "checkoutcome"},
        numbered=True,
        most=1_000_000,
    ),
    Table(
        ComparisonFindings,
        _OF_COMPARISON,
        {"comparison_id": "comparison"},
        holds={f"length(s.findings) % {RECORD.itemsize} = 0": "its findings are none"},
        json={"kinds": shapes.KINDS, "causes": shapes.CAUSES, "basis": shapes.BASIS},
        most=10_000,
    ),
    Table(
        Judgement,
        _OF_COMPARISON,
        {"comparison_id": "comparison", "decision_id": "decision"},
        frozenset({"decision_id"}),
        numbered=True,
        json={
            "counts": shapes.FINDINGS,
            "standing": shapes.STANDING,
            "weights": shapes.WEIGHTS,
            "expected": shapes.NUMBERS,
            "decisions": shapes.NUMBERS,
            "aside": shapes.ASIDE,
        },
        most=1_000_000,
    ),
    Table(
        Import,
        _OF_MOVE,
        {"capture_id": "capture"},
        frozenset({"capture_id"}),
        numbered=True,
        # The file that waits to be read did not come along.
        given={
            "stored": "''",
            "state": "CASE WHEN s.state = 'waiting' THEN 'failed' ELSE s.state END",
            "said": "CASE WHEN s.state = 'waiting' THEN 'It was not read when it was exported.' ELSE s.said END",
        },
        holds={"s.sha256 ~ '^[0-9a-f]{64}$'": "its digest is none"},
        json={"shown_elsewhere": shapes.HOT_LINKS},
        most=100_000,
    ),
)
