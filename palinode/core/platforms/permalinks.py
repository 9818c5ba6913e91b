"""Permalinks: the addresses that a site has by its own database."""

from collections.abc import Iterable
from dataclasses import dataclass, field

from palinode.core.platforms.items import Installation


@dataclass(frozen=True)
class Permalinks:
    """Paths below the home page's folder, without a slash before them; the home page's own is empty."""

    of_items: dict[str, list[str | None]]
    """By the name of the item table, that of each item; None for one that has none."""
    archives: list[str] = field(default_factory=list)
    """Of lists that no single item stands for, say all of a month."""

    def all(self) -> Iterable[str]:
        """Return all of them, each once."""
        return dict.fromkeys(
            [path for some in self.of_items.values() for path in some if path is not None] + self.archives
        )


def of(installation: Installation) -> Permalinks:
    """Return the permalinks of an installation; none where its platform's are not known, or its settings not read."""
    rule = installation.platform.permalinks
    return rule(installation) if rule and installation.settings else Permalinks({})
