"""Files are missing: styles or scripts that every page asks for, or a folder of images that was not copied."""

from collections import defaultdict
from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core import file_family as files
from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.files import FILE_MISSING
from palinode.core.findings import Finding
from palinode.core.weight import Weight
from palinode.core.wording import number

_FEWEST = 2
_OF_ALL = 0.5


def styles_missing(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the style sheets and scripts that are not there."""
    found = {
        place: one for place, one in ground.shared(free, FILE_MISSING).items() if files.ending(one.left) in files.STYLES
    }
    if not found:
        return
    pages = max(one.pages for one in found.values())
    most = max(found.values(), key=lambda one: one.pages)
    everywhere = pages >= _OF_ALL * max(1, int((ground.ledger.right != 0).sum()))
    where = "nearly all pages" if everywhere else number(pages, "page")
    yield Cause(
        "styles_missing",
        Weight.BLOCKS if everywhere else Weight.MEND,
        f"{number(len(found), 'style sheet or script is', 'style sheets or scripts are')} missing on {where}",
        f"{_place(ground, most)}: {most.detail}.",
        "Copy the folder of the theme or the extension that they belong to, and look at rights and at rules that "
        "shut the folder. Then capture again.",
        ground.at(found),
        pages,
        {},
        raised=everywhere,
        instead="If the files are on the server's disk and not found all the same, the site's own address or folder "
        "is wrong: open one of them by its address.",
    )


def folders_of_files(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each folder, or kind of file, of which pages ask for files that are missing."""
    rows = ground.outcomes["files"].rows if "files" in ground.outcomes else None
    told: dict[int, dict[int, Finding]] = defaultdict(dict)
    for place, one in ground.shared(free, FILE_MISSING).items():
        told[int(ground.findings.row[place])][place] = one
    few: dict[int, Finding] = {}
    for row, found in sorted(told.items(), key=lambda item: -len(item[1])):
        if len(found) < _FEWEST or rows is None:
            few |= found
            continue
        yield _missing(ground, f"{number(len(found), 'file')} of {rows.left_note[row]} are missing", found)
    if few:
        yield _missing(ground, f"{number(len(few), 'file')} {'is' if len(few) == 1 else 'are'} missing", few)


def _missing(ground: Ground, title: str, found: dict[int, Finding]) -> Cause:
    first = next(iter(found.values()))
    return Cause(
        "files_missing",
        Weight.MEND,
        title,
        f"{_place(ground, first)}: {first.detail}{'.' if len(found) == 1 else ', and others.'}",
        "Copy the folder from the source or its backup: a limit of size or time often leaves the largest or the oldest "
        "out. Then capture again.",
        ground.at(found),
        sum(one.pages for one in found.values()),
        {},
    )


def _place(ground: Ground, missing: Finding) -> str:
    return addresses.places([missing.left], ground.ledger.homes[0])[0]
