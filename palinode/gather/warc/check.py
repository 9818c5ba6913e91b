"""Checks a WARC file by what it says of itself: each record whole, each digest right."""

from dataclasses import dataclass
from typing import BinaryIO

from palinode.gather.warc import reader

_TOLD = 20


@dataclass(frozen=True)
class Checked:
    """What a check found."""

    records: int
    faults: tuple[str, ...]
    """In words, with the place; the first of them only."""


def check(file: BinaryIO) -> Checked:
    """Read every record of a file and recompute its digests."""
    number, faults = 0, []
    try:
        for record in reader.records(file):
            number += 1
            if (fault := record.fault()) and len(faults) < _TOLD:
                faults.append(f"at byte {record.offset:,}: {fault}")
    except reader.Damaged as error:
        faults.append(str(error))
    return Checked(number, tuple(faults))
