"""Files that people upload, given a path so that a process of its own can read them."""

import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from typing import BinaryIO


@contextmanager
def path_of(file: BinaryIO) -> Iterator[str]:
    """Give the path of a file; what lies in memory is written down for as long as that is needed."""
    kept = getattr(file, "temporary_file_path", None)
    if kept is not None:
        yield kept()
        return
    with tempfile.NamedTemporaryFile(prefix="palinode-") as written:
        file.seek(0)
        shutil.copyfileobj(file, written)
        written.flush()
        yield written.name
