"""Dumps in files, packed or not: what each is, told before it is read."""

from typing import BinaryIO

from palinode.core.dumps import origin
from palinode.core.dumps.origin import Origin
from palinode.core.dumps.script import Script
from palinode.gather.packed import Entry, Packed, PackedError


class OpenDump:
    """A dump that was opened and recognised, and not read yet."""

    def __init__(self, file: BinaryIO, name: str, entry: str = "") -> None:
        """Open a file called ``name``; ``entry`` is the dump in an archive, where there are several.

        Raises PackedError for what is broken, and for what is no dump.
        """

        def is_dump(one: Entry) -> bool:
            return one.name == entry if entry else origin.recognise(one.beginning) is not None

        self._packed = Packed(file, name, is_dump, origin.LOOKED_AT)
        self._beginning = self._packed.read(origin.LOOKED_AT)
        found = origin.recognise(self._beginning)
        if found is None:
            raise PackedError(
                f"{self._packed.name} is no SQL dump. A plain dump of MariaDB, MySQL or PostgreSQL is read: as "
                "mariadb-dump, mysqldump or pg_dump writes it, also packed."
            )
        self.origin: Origin = found

    @property
    def said(self) -> str:
        """What it is, in words."""
        packed = f", packed by {' and '.join(self._packed.packings)}" if self._packed.packings else ""
        return f"{self._packed.name} is a dump of {self.origin.server}{packed}."

    def script(self) -> Script:
        """Return what reads it, from its beginning on; once. Reading raises DumpError and PackedError."""
        return Script(self._read, self.origin.quoting)

    def _read(self, size: int) -> bytes:
        if self._beginning:
            data, self._beginning = self._beginning, b""
            return data
        return self._packed.read(size)
