"""Checks a WARC file by what it says of itself: each record whole, each digest right."""

from dataclasses import dataclass, field
from typing import BinaryIO

from palinode.gather.warc import reader, segment

_TOLD = 20


@dataclass(frozen=True)
class Checked:
    """What a check found."""

    records: int
    faults: tuple[str, ...]
    """In words, with the place; the first of them only."""
    responses: dict[int, str] = field(default_factory=dict)
    """Offset to the address of each response and revisit."""


def check(file: BinaryIO) -> Checked:
    """Read every record of a file and recompute its digests."""
    number = 0
    faults: list[str] = []
    responses: dict[int, str] = {}
    try:
        for record in reader.records(file):
            number += 1
            if record.kind in segment.KINDS:
                responses[record.offset] = record.address
            if (fault := record.fault()) and len(faults) < _TOLD:
                faults.append(f"at byte {record.offset:,}: {fault}")
    except reader.Damaged as error:
        faults.append(str(error))
    return Checked(number, tuple(faults), responses)
