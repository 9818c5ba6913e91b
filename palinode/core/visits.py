"""How often pages are visited, by access logs that people import."""

import hashlib
from dataclasses import dataclass

import numpy as np

from palinode.core import address as addresses
from palinode.core.columns import find


@dataclass(frozen=True)
class Visits:
    """Visits of n addresses; arrays of shape (n,)."""

    ident: np.ndarray
    """int64, ascending."""
    number: np.ndarray
    """int64: how often people asked for it."""
    last: np.ndarray
    """int32: the day on which they did last, as 20261112."""

    def of(self, idents: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return number (int64) and last day (int32) of some addresses.

        The number is 0 and the day -1 for those that no log names, and both are -1 where no log was imported.
        """
        at = find(self.ident, idents)
        nothing = 0 if len(self.ident) else -1
        return np.append(self.number, nothing)[at].astype(np.int64), np.append(self.last, -1)[at].astype(np.int32)

    @classmethod
    def told(cls, texts: list[str], number: np.ndarray, last: np.ndarray) -> "Visits":
        """Make them of addresses of logs, which do not tell http from https, nor the www name from the bare one."""
        found: dict[str, tuple[int, int]] = {}
        for text, times, day in zip(texts, number.tolist(), last.tolist(), strict=True):
            parts = addresses.split(text)
            form = parts._replace(scheme="http", host=addresses.bare_host(parts.host)).text
            before = found.get(form, (0, 0))
            found[form] = (before[0] + times, max(before[1], day))
        idents, told = [], []
        for form, one in found.items():
            parts = addresses.split(form)
            forms = [f"{beginning[:-1]}{parts.path}{parts.query}" for beginning in addresses.beginnings(parts.host)]
            idents.append(addresses.idents(forms))
            told += [one] * len(forms)
        if not idents:
            return NONE
        ident, columns = np.concatenate(idents), np.array(told, np.int64)
        order = np.argsort(ident)
        return cls(ident[order], columns[order, 0], columns[order, 1].astype(np.int32))

    @property
    def digest(self) -> str:
        """Return the digest of all of them (SHA-256, hexadecimal); empty where there are none."""
        if not len(self.ident):
            return ""
        columns = (self.ident.astype("<i8"), self.number.astype("<i8"), self.last.astype("<i4"))
        return hashlib.sha256(b"".join(column.tobytes() for column in columns)).hexdigest()


NONE = Visits(np.zeros(0, np.int64), np.zeros(0, np.int64), np.zeros(0, np.int32))
"""No log was imported."""
