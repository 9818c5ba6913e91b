"""SHA-1 as WARC writes it, in base 32 (RFC 4648); the library's encoder takes as long as the digest itself."""

import hashlib

_ALPHABET = "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567"
_PAIRS = [first + second for first in _ALPHABET for second in _ALPHABET]
_SHIFTS = range(150, -1, -10)


def sha1(data: bytes | memoryview) -> str:
    """Return the SHA-1 of data: 160 bits as 32 characters."""
    number = int.from_bytes(hashlib.sha1(data, usedforsecurity=False).digest(), "big")
    return "".join([_PAIRS[number >> shift & 1023] for shift in _SHIFTS])
