"""Permalinks: the addresses that a site has by its own database."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from palinode.core import address as addresses
from palinode.core.platforms.items import Installation
from palinode.core.platforms.platform import Field


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
    """Return the permalinks of an installation: as they are said of each item, else as its platform makes them.

    None where its platform's are not known, or its settings not read.
    """
    home = f"{installation.settings.get('home', '').rstrip('/')}/"
    said = {items.table.name: items.column(Field.LINK) for items in installation.items if Field.LINK in items.fields}
    if any(any(links) for links in said.values()):
        return Permalinks(
            {
                table: [one.removeprefix(home) if one.startswith(home) else None for one in links]
                for table, links in said.items()
            }
        )
    rule = installation.platform.permalinks
    return rule(installation) if rule and installation.settings else Permalinks({})


def base_of(installation: Installation, bases: Sequence[str]) -> str:
    """Return the address below which the permalinks of an installation stand: its host's home page, as it was asked.

    An installation that still names another host stands at the main one.
    """
    home = addresses.normal(installation.settings.get("home", "")) or ""
    host = addresses.bare_host(addresses.split(home).host) if home else ""
    return next((base for base in bases if addresses.bare_host(addresses.split(base).host) == host), bases[0])


def addresses_of(installation: Installation, bases: Sequence[str]) -> list[str]:
    """Return the addresses that a site has by its own database, each once; ``bases`` are those of its side's hosts."""
    base = base_of(installation, bases)
    found = (addresses.normal(f"{base}{path}") for path in of(installation).all())
    return [one for one in dict.fromkeys(found) if one]
