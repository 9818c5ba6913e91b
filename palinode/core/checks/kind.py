"""Kinds of findings: what each is called, and how much it weighs unless a person weighs it otherwise."""

import hashlib
from dataclasses import dataclass
from functools import cached_property

from palinode.core.checks.thread import Thread
from palinode.core.weight import Weight
from palinode.core.wording import number


@dataclass(frozen=True)
class Kind:
    """A kind of finding, declared by the check that finds it."""

    word: str
    """In code, API and interface; it never means another kind, since findings are known by it."""
    label: str
    """On screen."""
    weight: Weight
    fault: str = ""
    """What is wrong, where several checks see one fault of one subject: the first check owns it, the others follow."""
    remedy: str = ""
    """What to do about findings of it that no other cause explains."""
    shared: bool = False
    """It is about what many pages share, and has no row of its own."""
    seen_on: tuple[str, str] | None = None
    """What is said of one page, and of several, where they do not show it themselves: ``("page asks for it", …)``."""
    thread: Thread | None = None
    """The shape of its findings; None for one that follows from their weight."""

    @cached_property
    def number(self) -> int:
        """A number for its word (int64), the same in every comparison."""
        return int.from_bytes(hashlib.blake2b(self.word.encode(), digest_size=8).digest(), "big", signed=True)

    def on(self, pages: int) -> str:
        """Return on how many pages a finding is seen, as it stands beside the first of them; empty where it is one."""
        if self.seen_on:
            return number(pages, *self.seen_on)
        return f"and {number(pages - 1, 'page')} more" if pages > 1 else ""

    def thread_of(self, weight: Weight) -> Thread:
        """Return the shape of an open or accepted finding of this weight, which may be another than the kind's own."""
        return self.thread or (Thread.CUT if weight == Weight.BLOCKS else Thread.WAVY)
