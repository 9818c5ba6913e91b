"""Links, forms or log-in lead back to the old host: addresses of the source were not replaced."""

from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.texts import altered_rows, first_of
from palinode.core.checks.leftovers.verdicts import LINKED, LOADED, SAID, SENT
from palinode.core.checks.pages import kinds
from palinode.core.difference_signs import Sign
from palinode.core.weight import Weight
from palinode.core.wording import number

_KINDS = (
    kinds.LINKS,
    kinds.IMAGES,
    kinds.FORMS,
    kinds.CANONICAL,
    kinds.HREFLANG,
    kinds.OPEN_GRAPH,
    kinds.TEXT,
)
LEFTOVERS = (LINKED, LOADED, SENT, SAID)
_OWN = (kinds.CANONICAL, kinds.HREFLANG, kinds.OPEN_GRAPH)


def leads_back(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the pages, and the parts of templates, that lead to addresses of the source."""
    back = ground.show(Sign.LEADS_BACK)
    takes = ground.takes(free, back, *_KINDS)
    links = ground.shared(free, kinds.TEMPLATE_LINK)
    hosts = {addresses.split(address).host for address in ground.ledger.left_address if address} if links else ()
    menus = {place: one for place, one in links.items() if any(f"//{host}/" in one.detail for host in hosts)}
    rows = ground.under(takes)
    known = rows | back
    for one in menus.values():
        if one.on is not None:
            known[one.on[one.on < len(known)]] = True
    # What is found in their markup besides: the same addresses, place by place.
    besides = {
        place: one
        for place, one in ground.shared(free, *LEFTOVERS).items()
        if one.on is not None and 2 * int(known[one.on].sum()) >= len(one.on)
    }
    pages = max([int(rows.sum()), *(one.pages for one in menus.values())])
    if not pages:
        return
    example = first_of(ground, rows) if rows.any() else next(iter(menus.values())).detail
    only_own = not menus and not ground.rows(free & takes, *(kind for kind in _KINDS if kind not in _OWN)).any()
    yield Cause(
        "leads_back",
        Weight.MEND,
        f"{number(pages, 'page')} {'leads' if pages == 1 else 'lead'} back to the old host",
        f"{example}: {'canonical or other links of the head' if only_own else 'links or forms'} name the old address.",
        "Replace the old address in the database, with a tool that knows serialized values, and look at the site's own "
        "address in its settings, at themes and at configuration files. Then capture again.",
        takes | ground.at(menus) | ground.at(besides),
        pages,
        altered_rows(ground.ledger, rows),
        everywhere=bool(menus),
    )
