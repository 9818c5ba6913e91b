"""What asking some pages of a capture again showed: what is volatile, what changed, what older copies caches hold."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from palinode.core import http_cache, volatile
from palinode.core.facts import Facts

_NAMED = 10


@dataclass
class Seen:
    """The readings of one page: as captured, asked twice, asked twice past caches."""

    address: str
    captured: Facts
    plain: list[Facts] = field(default_factory=list)
    past: list[Facts] = field(default_factory=list)
    headers: Mapping[str, str] = field(default_factory=dict)


def told(seen: Sequence[Seen]) -> dict[str, Any]:
    """Return what is kept with the capture."""
    asked = [one for one in seen if one.plain]
    learnt = volatile.NOTHING
    for one in asked:
        learnt |= volatile.learn(one.address, *one.plain)
    changed = [one.address for one in asked if not volatile.alike(one.captured, one.plain[0], learnt)]
    older = [
        one
        for one in asked
        if one.past
        and volatile.alike(one.plain[0], one.plain[1], learnt)
        and volatile.alike(one.past[0], one.past[1], learnt)
        and not volatile.alike(one.plain[1], one.past[0], learnt)
    ]
    return {
        "asked": len(asked),
        "gone": len(seen) - len(asked),
        "changed": len(changed),
        "changed_examples": changed[:_NAMED],
        "volatile": learnt.plain(),
        "older": len(older),
        "older_examples": [one.address for one in older[:_NAMED]],
        "age": max((http_cache.age(one.headers) for one in older), default=0),
        "keeps": max((http_cache.keeps(one.headers) for one in older), default=0),
    }


NOTHING_TOLD: dict[str, Any] = told(())
"""Where nothing could be asked, or what came could not be read."""
