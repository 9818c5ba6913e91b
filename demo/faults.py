"""Faults of the demo's new hosts; each can be set and cleared on the control page."""

import json
from dataclasses import dataclass
from pathlib import Path


@dataclass(frozen=True)
class Fault:
    """A thing that goes wrong in real moves."""

    name: str
    said: str
    """As the control page says it."""
    at_start: bool


FAULTS = (
    Fault("events", "The inner pages of /events answer 404; the extension that serves them was not copied", True),
    Fault("tides", "Tide tables before 2017 were not copied", True),
    Fault("redirects", "Two products of the old shop have no redirect, and one has a temporary one", True),
    Fault("hours", "The page of opening hours lost two sentences, its form and its title", True),
    Fault("sample", "The installer left its sample post behind", True),
    Fault("marrow", "Marrow Lane: one page of the backup is older than the site was", True),
    Fault("sitemap", "robots.txt still names the sitemap of the old host", True),
    Fault("orders", "The import of the new database stopped inside the table of order lines", True),
    Fault("term", "The category Harbour was dropped; its posts are under the one by default", True),
    Fault(
        "leftovers",
        "Old addresses stayed behind in the journal and the database; one was replaced without counting again",
        True,
    ),
    Fault("slash", "A slash at the end of an address is not redirected any more: each page has two addresses", True),
    Fault("staging", "robots.txt of the staging site was left on: it shuts everybody out", False),
    Fault("noindex", "Search engines are asked to stay away from every page", False),
    Fault("inner", "Rewrite rules are not rebuilt: only the home page works", False),
    Fault("home", "Everything unknown is redirected to the home page", False),
    Fault("busy", "/people answers 503: the new host is too busy", False),
    Fault("maintenance", "/recipes answers a notice of maintenance, with status 200", False),
    Fault("database", "/store cannot reach its database, and says so with status 200", False),
    Fault("characters", "Characters of /recipes are damaged: the import took UTF-8 for another encoding", False),
    Fault("back", "Menu and links of /people lead back to the old host", False),
    Fault("style", "The style sheet that every page asks for was not copied", False),
    Fault("stamp", "Every page says when it was made, another time at each asking", False),
    Fault("cache", "A cache in front still holds yesterday's pages of /visit", False),
    Fault("soft", "What is not found answers 200, with the page that says so", False),
)


class Faults:
    """Which faults are set; kept in a file, so that a restart finds them."""

    def __init__(self, path: Path) -> None:
        self.path = path
        if path.exists():
            self._set = set(json.loads(path.read_text()))
        else:
            self._set = {fault.name for fault in FAULTS if fault.at_start}

    def __contains__(self, name: str) -> bool:
        return name in self._set

    def choose(self, names: set[str]) -> None:
        """Set these faults and clear all others."""
        self._set = names & {fault.name for fault in FAULTS}
        self.path.write_text(json.dumps(sorted(self._set)))
