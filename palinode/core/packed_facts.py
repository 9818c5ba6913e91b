"""The part of a page's facts that has no column: packed when a page is read, unpacked when it is shown or compared."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any, NamedTuple

import orjson
from isal import isal_zlib

from palinode.core.fields import Place
from palinode.core.markup import Block, Form, Reference
from palinode.core.recognition import Recognised

_LEVEL = 1
"""Of compression: the fastest, since a capture packs every page that it reads."""


_MOST = 50_000_000
"""Bytes of it, unpacked: several times what the largest markup that is read makes."""


class Written(NamedTuple):
    """A reference as it is kept: its identity stands in a column, in the order of core/edges.py."""

    place: int
    written: str
    label: str


def pack(
    blocks: Iterable[Block],
    references: Sequence[Reference],
    forms: Iterable[Form],
    structured: Sequence[str],
    open_graph: Sequence[tuple[str, str]],
    identifier: str,
    recognised: Recognised,
) -> bytes:
    """Pack the facts that have no column: deflated (RFC 1950) JSON of extractor name to version and output."""
    columns = [
        [one.place for one in references],
        [one.written for one in references],
        [one.label for one in references],
    ]
    kept = {
        "blocks": [1, [[b.kind, b.text, b.path, b.main] for b in blocks]],
        "references": [2, columns],
        "forms": [1, [[f.method, f.fields, f.main] for f in forms]],
        "structured": [1, structured],
        "open_graph": [1, open_graph],
        "identifier": [1, identifier],
        "recognition": [1, [recognised.kind, recognised.evidence]],
    }
    return isal_zlib.compress(orjson.dumps(kept), _LEVEL)


def unpacked(packed: bytes | memoryview) -> bytes:
    """Return the JSON that was packed. Raises ValueError if it is damaged, or larger than any page makes."""
    try:
        data: bytes = isal_zlib.decompressobj().decompress(packed, _MOST + 1)
    except isal_zlib.error as error:  # type: ignore[misc]
        raise ValueError(f"what was kept of a page is broken: {error}") from None
    if len(data) > _MOST:
        raise ValueError("what was kept of a page is larger than any page makes")
    return data


class PackedFacts:
    """What was kept of one page; of a page without facts everything is empty."""

    def __init__(self, packed: bytes | memoryview | None = None) -> None:
        self._kept: Mapping[str, Any] = orjson.loads(unpacked(packed)) if packed else {}

    def __bool__(self) -> bool:
        return bool(self._kept)

    def _output(self, extractor: str) -> Any:
        return self._kept[extractor][1] if extractor in self._kept else ()

    @property
    def blocks(self) -> list[Block]:
        """All blocks, in document order."""
        return [Block(*one) for one in self._output("blocks")]

    @property
    def main(self) -> list[tuple[str, str]]:
        """Kind and text of the blocks of the main content."""
        return [(kind, text) for kind, text, _, main in self._output("blocks") if main]

    @property
    def _references(self) -> Sequence[Sequence[Any]]:
        """Places, how they were written, labels."""
        version, output = self._kept.get("references", (2, ((), (), ())))
        if version == 1:
            # One list for each, with its identity in the second place.
            return [[one[at] for one in output] for at in (0, 2, 3)]
        found: Sequence[Sequence[Any]] = output
        return found

    @property
    def references(self) -> list[Written]:
        """What the page refers to, in document order."""
        return list(map(Written, *self._references))

    @property
    def written(self) -> Sequence[str]:
        """The references as they were written, in document order."""
        return self._references[1]

    def at(self, *places: Place) -> list[Written]:
        """Return the references that stand at some places."""
        return [Written(*one) for one in zip(*self._references, strict=True) if one[0] in places]

    @property
    def links(self) -> list[tuple[str, str]]:
        """The words of each link of the main content, and its address as it is written."""
        places, written, labels = self._references
        return [(labels[at], written[at]) for at, place in enumerate(places) if place == Place.LINK]

    @property
    def forms(self) -> list[Form]:
        """The page's forms, in document order."""
        return [Form(method, tuple(fields), main) for method, fields, main in self._output("forms")]

    @property
    def structured(self) -> Sequence[str]:
        """The types of structured data."""
        found: Sequence[str] = self._output("structured")
        return found

    @property
    def open_graph(self) -> list[tuple[str, str]]:
        """Names and contents of Open Graph that are no addresses."""
        return [(name, content) for name, content in self._output("open_graph")]

    @property
    def identifier(self) -> str:
        """What the platform itself calls the page; empty if it says nothing."""
        return self._output("identifier") or ""

    @property
    def recognised(self) -> tuple[int, str]:
        """What the page is besides being the page (recognition/kind.py), and by what evidence."""
        kind, evidence = self._output("recognition") or (0, "")
        return kind, evidence
