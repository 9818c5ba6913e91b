"""How far an import is, and whether a person stopped it."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connections
from django.utils import timezone

from palinode.records.models import Import

_BEAT = 1.0


class ImportRefused(ValueError):
    """A file cannot be imported, or is not to be any more; the message is for a person."""


class ImportProgress:
    """How far a reader is, told from a thread of its own, since what it writes is not seen before its end."""

    def __init__(self, imported: Import) -> None:
        self.imported, self.read = imported, 0
        self._ended, self._stopped = threading.Event(), threading.Event()

    def mind(self) -> None:
        """Raise ImportRefused if a person stopped the import, or deleted its move."""
        if self._stopped.is_set():
            raise ImportRefused("stopped")

    @contextmanager
    def told(self) -> Iterator["ImportProgress"]:
        """Tell it each second, for as long as the context lasts."""
        thread = threading.Thread(target=self._tell)
        thread.start()
        try:
            yield self
        finally:
            self._ended.set()
            thread.join()

    def _tell(self) -> None:
        waiting = Import.objects.filter(pk=self.imported.pk, state=Import.State.WAITING)
        try:
            while True:
                if not waiting.update(read=self.read, seen_at=timezone.now()):
                    self._stopped.set()
                    return
                if self._ended.wait(_BEAT):
                    return
        finally:
            connections.close_all()
