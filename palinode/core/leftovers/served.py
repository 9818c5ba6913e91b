"""The leftovers of all answers of a capture, in columns, so that many pages with the same ones take little room."""

from array import array
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import orjson

from palinode.core.leftovers.answer import Leftover
from palinode.core.leftovers.places import Place, Use
from palinode.core.leftovers.wanted import Wanted

VERSION = 3
"""Raised when the same answers give other leftovers."""
MOST_FORMS = 200_000
"""Different leftovers of a capture that are kept."""


class Form(NamedTuple):
    """A leftover as many answers may have it."""

    place: Place
    written: str
    sample: str
    """With what stands around it, in one of them."""
    in_base64: bool


@dataclass(frozen=True)
class ServedLeftovers:
    """What the answers of a capture have of what was wanted: m times an answer has one of the forms."""

    wanted: Wanted
    forms: list[Form]
    ident: np.ndarray
    """int64 (m,): identities of the answers' addresses, as they were asked."""
    form: np.ndarray
    """int32 (m,): places among the forms."""
    times: np.ndarray
    """int32 (m,): how often it stands there."""
    addresses: dict[int, str]
    """Of these answers, by their identities."""
    unread: int = 0
    """Answers that could not be read any more."""
    left_out: int = 0
    """Further occurrences, of forms that are not kept."""

    def arrays(self) -> dict[str, np.ndarray]:
        """Return it as arrays, as they are kept; ``forms`` is JSON in UTF-8."""
        written = orjson.dumps(
            [[one.place.name, one.place.use, one.written, one.sample, one.in_base64] for one in self.forms]
        )
        return {
            "forms": np.frombuffer(written, np.uint8),
            "ident": self.ident,
            "form": self.form,
            "times": self.times,
            "addresses": np.frombuffer(orjson.dumps(list(self.addresses.items())), np.uint8),
            "beside": np.array([self.unread, self.left_out], np.int64),
        }

    @classmethod
    def of(cls, wanted: Wanted, arrays: Mapping[str, np.ndarray]) -> "ServedLeftovers":
        """Return what was kept as arrays."""
        forms = [
            Form(Place(name, Use(use)), written, sample, coded)
            for name, use, written, sample, coded in orjson.loads(arrays["forms"].tobytes())
        ]
        addresses = dict(orjson.loads(arrays["addresses"].tobytes()))
        ident, form, times = arrays["ident"], arrays["form"], arrays["times"]
        return cls(wanted, forms, ident, form, times, addresses, *arrays["beside"].tolist())


ARRAYS = ("forms", "ident", "form", "times", "addresses", "beside")


class Gathering:
    """Gathers the leftovers of answers, one after the other."""

    def __init__(self, wanted: Wanted) -> None:
        self._wanted = wanted
        self._forms: dict[tuple[Place, str, bool], int] = {}
        self._samples: list[str] = []
        self._columns = array("q"), array("i"), array("i")
        self._left_out = 0
        self._addresses: dict[int, str] = {}
        self.unread = 0

    def add(self, ident: int, address: str, leftovers: Iterable[Leftover]) -> None:
        """Add those of one answer."""
        self._addresses[ident] = address
        for one in leftovers:
            key = (one.place, one.written, one.in_base64)
            if key not in self._forms and len(self._forms) >= MOST_FORMS:
                self._left_out += one.times
                continue
            number = self._forms.setdefault(key, len(self._forms))
            if number == len(self._samples):
                self._samples.append(one.sample)
            for column, value in zip(self._columns, (ident, number, one.times), strict=True):
                column.append(value)

    def made(self) -> ServedLeftovers:
        """Return all that were added."""
        forms = [
            Form(place, written, sample, coded)
            for (place, written, coded), sample in zip(self._forms, self._samples, strict=True)
        ]
        kinds = (np.int64, np.int32, np.int32)
        ident, form, times = (np.array(one, kind) for one, kind in zip(self._columns, kinds, strict=True))
        return ServedLeftovers(self._wanted, forms, ident, form, times, self._addresses, self.unread, self._left_out)
