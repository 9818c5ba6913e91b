"""What the options of WordPress say that it is set to."""

from collections.abc import Iterator
from typing import Any

from palinode.core import php_values
from palinode.core.php_values import PhpValueError
from palinode.core.platforms.items import Installation
from palinode.core.platforms.traits import About, Trait

_PLAIN = (
    (About.VERSION, "version", "WordPress"),
    (About.VERSION, "db_version", "version of its tables"),
    (About.ADDRESS, "home", "address of the site"),
    (About.ADDRESS, "siteurl", "address of WordPress itself"),
    (About.PERMALINKS, "permalink_structure", "permalinks"),
    (About.PERMALINKS, "category_base", "folder of categories"),
    (About.PERMALINKS, "tag_base", "folder of tags"),
    (About.SETTING, "blogname", "name of the site"),
    (About.SETTING, "WPLANG", "language"),
    (About.SETTING, "timezone_string", "time zone"),
    (About.SETTING, "gmt_offset", "hours from UTC"),
    (About.SETTING, "show_on_front", "front page shows"),
    (About.SETTING, "posts_per_page", "posts on a page"),
    (About.SETTING, "upload_path", "folder of uploads"),
    (About.SETTING, "default_comment_status", "comments on new posts"),
)


_OF_EXTENSIONS, _OF_THEMES = VERSIONS = ("_site_transient_update_plugins", "_site_transient_update_themes")
"""Options in which the platform notes when it looked for updates, and of which versions: what is told of these."""


def traits(one: Installation) -> Iterator[Trait]:
    """Yield the traits of an installation."""
    said = one.settings
    for about, option, name in _PLAIN:
        if option in said:
            yield Trait(about, name, said[option] or ("plain" if option == "permalink_structure" else ""))
    if "stylesheet" in said:
        theme, parent = said["stylesheet"], said.get("template", "")
        yield Trait(About.THEME, "theme", theme if parent in ("", theme) else f"{theme}, on {parent}")
    if "blog_public" in said:
        yield Trait(About.SEARCH, "search engines", "let in" if said["blog_public"] == "1" else "asked to stay away")
    if "users_can_register" in said:
        yield Trait(About.SETTING, "anybody may register", "yes" if said["users_can_register"] == "1" else "no")
    versions = {name: _checked(said.get(name, "")) for name in VERSIONS}
    if said.get("stylesheet", "") in versions[_OF_THEMES]:
        yield Trait(About.VERSION, f"version of theme {said['stylesheet']}", versions[_OF_THEMES][said["stylesheet"]])
    for extension in sorted(map(str, _read(said.get("active_plugins", "")).values())):
        name = extension.partition("/")[0].removesuffix(".php")
        yield Trait(About.EXTENSION, f"extension {name}", "on")
        if extension in versions[_OF_EXTENSIONS]:
            yield Trait(About.VERSION, f"version of extension {name}", versions[_OF_EXTENSIONS][extension])
    roles = next((text for name, text in said.items() if name.endswith("user_roles")), "")
    for role in sorted(map(str, _read(roles))):
        yield Trait(About.ROLE, f"role {role}", "known")
    for hook in sorted(_hooks(said.get("cron", ""))):
        yield Trait(About.TASK, f"scheduled task {hook}", "planned")
    if one.prefix:
        yield Trait(About.PREFIX, "prefix of tables", one.prefix)


def _hooks(cron: str) -> set[str]:
    """Return the names of scheduled tasks: they stand below the time at which each is due."""
    return {str(hook) for due in _read(cron).values() if isinstance(due, dict) for hook in due}


def _checked(text: str) -> dict[str, str]:
    """Return the versions that were there when the platform looked for updates last."""
    found = _read(text).get("checked")
    return {str(name): str(version) for name, version in found.items()} if isinstance(found, dict) else {}


def _read(text: str) -> dict[Any, Any]:
    try:
        found = php_values.read(text) if text else {}
    except PhpValueError:
        return {}
    return found if isinstance(found, dict) else {}
