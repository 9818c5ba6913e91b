"""Kinds of causes: how certain each is, who can mend it, and what tells it from others that would explain the same."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import IntEnum, StrEnum
from typing import Any


class Certainty(IntEnum):
    """How certain a cause is; the most certain first."""

    SHOWN = 0
    LIKELY = 1
    UNKNOWN = 2

    @property
    def word(self) -> str:
        """The word in code, API and interface."""
        return self.name.lower()

    @property
    def label(self) -> str:
        """On screen."""
        return {0: "the answers show it", 1: "likely", 2: "no reason known"}[self]


class Who(StrEnum):
    """Who can do what a cause wants done."""

    EDITOR = "editor"
    """Writes and changes pages."""
    ADMINISTRATOR = "administrator"
    """Sets the site up: its settings, extensions, theme, imports."""
    HOST = "host"
    """Runs the server: its rules, folders, certificates, caches."""
    DNS = "dns"
    """Runs the domain's records."""

    @property
    def label(self) -> str:
        """On screen."""
        return {"editor": "Editor", "administrator": "Administrator", "host": "Host", "dns": "Whoever runs DNS"}[self]


class Step(IntEnum):
    """When a cause is mended: what comes first may take others with it."""

    REACH = 0
    """The site itself must answer."""
    BRING = 1
    """What is missing must be there."""
    LEAD = 2
    """Addresses must lead where they should."""
    MEND = 3
    """What is there must be right."""
    LOOK = 4
    """Somebody must look first."""


@dataclass(frozen=True)
class CauseKind:
    """What all causes of a kind have in common."""

    who: Who
    certainty: Certainty = Certainty.LIKELY
    tells: str = ""
    """What to look at, to tell it from another cause that would explain the same."""


_SHOWN, _UNKNOWN = Certainty.SHOWN, Certainty.UNKNOWN
_EDITOR, _ADMINISTRATOR, _HOST, _DNS = Who
KINDS: dict[str, CauseKind] = {
    "inner_pages": CauseKind(_HOST, tells="Ask for one of the pages with index.php before its path: if that answers, "
                             "only the rewrite rules are missing."),
    "all_to_home": CauseKind(_HOST, _SHOWN),
    "items_missing": CauseKind(_ADMINISTRATOR, _SHOWN, "Look one up in the administration of the destination: if it "
                               "is there, the dump is older than the pages."),
    "term_dropped": CauseKind(_EDITOR, _SHOWN),
    "files_not_copied": CauseKind(_HOST, _SHOWN),
    "source_changed": CauseKind(_ADMINISTRATOR, _SHOWN, "Compare with the later capture of the source: what it "
                                "explains is gone then."),
    "years_missing": CauseKind(_ADMINISTRATOR, tells="If the years end sharply, with nothing of them there, the copy "
                               "stopped; single pages of them at the destination speak against it."),
    "numbers_missing": CauseKind(_ADMINISTRATOR, tells="If the last page that is there is the last that the import's "
                                 "log names, it stopped there."),
    "section_lost": CauseKind(_ADMINISTRATOR, tells="If its menu is there and its pages are not, an extension or its "
                              "address settings are missing; if neither is, it was never copied."),
    "folder_lost": CauseKind(_HOST, tells="Look at the folder on the server's disk: if its files are there, it is a "
                             "rule or a right."),
    "merged_by_text": CauseKind(_EDITOR, _SHOWN, "Open the page that is named: it says what the lost one said."),
    "shut_out": CauseKind(_ADMINISTRATOR, _SHOWN),
    "slash_policy": CauseKind(_HOST, _SHOWN),
    "letter_case": CauseKind(_HOST, _SHOWN),
    "beginnings_changed": CauseKind(_ADMINISTRATOR, _SHOWN),
    "section_moved": CauseKind(_ADMINISTRATOR, _SHOWN),
    "site_in_folder": CauseKind(_HOST, _SHOWN),
    "redirects_without_path": CauseKind(_HOST, _SHOWN),
    "pages_merged": CauseKind(_EDITOR),
    "redirects_wrong": CauseKind(_HOST, _SHOWN),
    "redirects_missing": CauseKind(_HOST, _SHOWN),
    "redirects_temporary": CauseKind(_HOST, _SHOWN),
    "other_name": CauseKind(_ADMINISTRATOR, _SHOWN),
    "older_copy": CauseKind(_HOST, _SHOWN, "Ask for a page with a made-up parameter at its end: if that is right, the "
                            "cache is old."),
    "characters_damaged": CauseKind(_ADMINISTRATOR, _SHOWN, "Look for letters with accents or quotes in the pair: only "
                                    "these differ."),
    "script_messages": CauseKind(_HOST, _SHOWN, "The message itself stands in the pair, with a file and a line."),
    "markers_shown": CauseKind(_ADMINISTRATOR, _SHOWN, "The marker itself stands in the pair, in brackets."),
    "leads_back": CauseKind(_ADMINISTRATOR, _SHOWN, "The old host's name stands in the links of the pair."),
    "dates_otherwise": CauseKind(_ADMINISTRATOR, tells="In the pair nothing but dates and times is marked."),
    "language_changed": CauseKind(_ADMINISTRATOR, _SHOWN),
    "part_gone": CauseKind(_ADMINISTRATOR, tells="In each pair the same paragraph is struck through, and nothing "
                           "else."),
    "pages_cut": CauseKind(_ADMINISTRATOR, tells="In the pair all that is struck through stands at the end."),
    "forms_gone": CauseKind(_ADMINISTRATOR, tells="The tab of forms has one at the source alone."),
    "styles_missing": CauseKind(_HOST, _SHOWN),
    "files_missing": CauseKind(_HOST, _SHOWN),
    "template_differs": CauseKind(_ADMINISTRATOR, _SHOWN),
    "theme_differs": CauseKind(_ADMINISTRATOR, _SHOWN),
    "pages_lost": CauseKind(_EDITOR, _UNKNOWN),
    "pages_altered": CauseKind(_EDITOR, _UNKNOWN),
    "pages_not_judged": CauseKind(_HOST, _UNKNOWN),
    "page_split": CauseKind(_EDITOR, _SHOWN),
    "pages_new": CauseKind(_EDITOR, _UNKNOWN),
    # What answers in place of pages (recognition/page_kind.py).
    "recognised_new_server": CauseKind(_HOST, _SHOWN),
    "recognised_parked": CauseKind(_DNS, _SHOWN),
    "recognised_challenge": CauseKind(_HOST, _SHOWN),
    "recognised_listing": CauseKind(_HOST, _SHOWN),
    "recognised_login": CauseKind(_HOST, _SHOWN),
    "recognised_script_error": CauseKind(_HOST, _SHOWN),
    "recognised_blank": CauseKind(_HOST, _SHOWN),
    "recognised_truncated": CauseKind(_HOST, _SHOWN),
    # Findings of checks that nothing else explains (causes/kind_alone.py).
    "sitemap_lost": CauseKind(_HOST, _SHOWN),
    "sitemap_old": CauseKind(_ADMINISTRATOR, _SHOWN),
    "files_gone": CauseKind(_HOST, _SHOWN),
    "files_replaced": CauseKind(_HOST, _SHOWN),
    "files_moved": CauseKind(_HOST, _SHOWN),
}  # fmt: skip
"""By the word of the kind."""
_OTHER = CauseKind(Who.ADMINISTRATOR, Certainty.SHOWN)


_STEPS: dict[Step, tuple[str, ...]] = {
    Step.REACH: ("inner_pages", "all_to_home", "site_in_folder", "shut_out"),
    Step.BRING: (
        *(
            "items_missing",
            "files_not_copied",
            "source_changed",
            "years_missing",
            "numbers_missing",
            "section_lost",
            "folder_lost",
            "merged_by_text",
        ),
        *("pages_lost", "styles_missing", "files_missing", "files_gone", "sitemap_lost", "pages_cut", "forms_gone"),
    ),
    Step.LEAD: (
        *(
            "beginnings_changed",
            "slash_policy",
            "letter_case",
            "section_moved",
            "redirects_without_path",
            "redirects_wrong",
        ),
        *("pages_merged", "redirects_missing", "redirects_temporary", "other_name", "leads_back", "files_moved"),
        "sitemap_old",
    ),
    Step.LOOK: ("pages_altered", "pages_not_judged", "page_split", "pages_new"),
}
"""Kinds by when they are mended; all others are mended at Step.MEND."""
_BY_WORD = {word: step for step, words in _STEPS.items() for word in words}
_STANDS_IN = "recognised_"


def step(word: str) -> Step:
    """Return when causes of a kind are mended."""
    return Step.REACH if word.startswith(_STANDS_IN) else _BY_WORD.get(word, Step.MEND)


def of(word: str) -> CauseKind:
    """Return the kind of a word; of one that has no line of its own, what an administrator can mend."""
    return KINDS.get(word, _OTHER)


def told(cause: Mapping[str, Any]) -> dict[str, Any]:
    """Return a cause, as it is kept, with its certainty and who can mend it.

    One that an earlier version kept says neither: it has those of its kind.
    """
    kind = of(cause["kind"])
    return {"certainty": kind.certainty.word, "who": kind.who.value, **cause}
