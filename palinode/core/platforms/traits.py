"""Traits: what an installation is set to, each with a name and a value in words."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from palinode.core.platforms.items import Installation


class About(StrEnum):
    """What a trait is about, which says how much it matters where two differ."""

    VERSION = "version"
    ADDRESS = "address"
    """Its value is an address, which the address rule changes."""
    THEME = "theme"
    EXTENSION = "extension"
    PERMALINKS = "permalinks"
    SEARCH = "search"
    """Whether search engines are let in."""
    ROLE = "role"
    TASK = "task"
    SETTING = "setting"
    PREFIX = "prefix"


@dataclass(frozen=True)
class Trait:
    """One trait."""

    about: About
    name: str
    value: str


def of(installation: Installation) -> Iterator[Trait]:
    """Yield what an installation is set to, as far as what was read of it says so."""
    rule = installation.platform.traits
    if rule and installation.settings:
        yield from rule(installation)
