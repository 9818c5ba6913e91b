"""Something else answers in place of pages: a notice, a wall, an error."""

from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.recognition.page_kind import PageKind
from palinode.core.weight import Weight
from palinode.core.wording import number

_AGAIN = "Then capture the destination again."
_REMEDIES = {
    PageKind.NEW_SERVER: "The server does not know the site's name, or its folder is empty. Set both up.",
    PageKind.PARKED: "The name leads to somebody who parks domains. See if it expired and where its records point.",
    PageKind.CONSTRUCTION: "Take the placeholder away; the site behind it may be there already.",
    PageKind.MAINTENANCE: "Switch the maintenance mode off; an update that broke off leaves it on.",
    PageKind.DATABASE: "Compare the database's name, host, user and password with the site's configuration.",
    PageKind.INSTALLER: "The site finds no tables. Import the database, and compare its table prefix.",
    PageKind.SCRIPT_ERROR: "Read the server's error log; often a version or an extension differs from the old host.",
    PageKind.BLANK: "A script ended without a word. Read the server's error log.",
    PageKind.LOGIN: "Give a user name and password in the description, or take the wall away.",
    PageKind.CHALLENGE: "Let the capture's address pass the protective proxy, or connect to the host behind it.",
    PageKind.LISTING: "The server finds no index document in the folder. Look whether the files were all copied.",
    PageKind.CONSENT: "Show the page without consent to the capture, or connect to the host behind the wall.",
    PageKind.SCRIPTED: "Scripts draw the page, and a capture runs none. Look at it by eye, or let the server draw it.",
    PageKind.TRUNCATED: "The page breaks off. Look at the server's error log, its time limits and its memory limits.",
}


def recognised(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each kind of page that answers in place of others."""
    ledger, rows = ground.ledger, ground.rows(free, kinds.STOOD_IN)
    for code in np.unique(ledger.recognised[rows]).tolist():
        kind, here = PageKind(code), rows & (ledger.recognised == code)
        first = ledger.left_address[int(np.flatnonzero(here)[0])]
        count = int(here.sum())
        yield Cause(
            f"recognised_{kind.name.lower()}",
            Weight.BLOCKS,
            f"{kind.label} answers in place of {number(count, 'page')}",
            f"{addresses.path(first)}{'.' if count == 1 else ' and others.'}",
            f"{_REMEDIES[kind]} {_AGAIN}",
            ground.takes(free, here, kinds.STOOD_IN),
            count,
            {"verdict": "unknown"},
        )
