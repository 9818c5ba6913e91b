"""What the configuration of Drupal says, and which addresses follow from its database."""

from collections.abc import Iterator
from typing import Any

from palinode.core import php_values
from palinode.core.php_values import PhpValueError
from palinode.core.platforms.items import Installation
from palinode.core.platforms.permalinks import Permalinks
from palinode.core.platforms.platform import Field
from palinode.core.platforms.traits import About, Trait

_CORE = frozenset({"minimal", "standard"})


def permalinks(one: Installation) -> Permalinks:
    """Return the addresses of published nodes, by their alias or number, and of terms."""
    nodes, terms, *_ = one.items
    columns = (nodes.column(what) for what in (Field.IDENTITY, Field.STATUS, Field.SLUG))
    front = str(_config(one, "system.site").get("page", {}).get("front", "")).strip("/")
    of_nodes: list[str | None] = []
    for ident, status, alias in zip(*columns, strict=True):
        path = f"node/{ident}"
        of_nodes.append(None if status != "1" else "" if path == front else alias.strip("/") or path)
    columns = (terms.column(what) for what in (Field.IDENTITY, Field.STATUS))
    of_terms = [f"taxonomy/term/{ident}" if status == "1" else None for ident, status in zip(*columns, strict=True)]
    return Permalinks({nodes.table.name: of_nodes, terms.table.name: of_terms})


def traits(one: Installation) -> Iterator[Trait]:
    """Yield the traits of an installation."""
    site, theme = _config(one, "system.site"), _config(one, "system.theme")
    for about, name, value in (
        (About.SETTING, "name of the site", site.get("name")),
        (About.SETTING, "language", site.get("default_langcode")),
        (About.SETTING, "front page", site.get("page", {}).get("front")),
        (About.THEME, "theme", theme.get("default")),
        (About.SETTING, "time zone", _config(one, "system.date").get("timezone", {}).get("default")),
    ):
        if value:
            yield Trait(about, name, str(value))
    for module in sorted(set(map(str, _config(one, "core.extension").get("module", {}))) - _CORE):
        yield Trait(About.EXTENSION, f"extension {module}", "on")
    if one.prefix:
        yield Trait(About.PREFIX, "prefix of tables", one.prefix)


def _config(one: Installation, name: str) -> dict[Any, Any]:
    try:
        found = php_values.read(one.settings.get(name, "a:0:{}"))
    except PhpValueError:
        return {}
    return found if isinstance(found, dict) else {}
