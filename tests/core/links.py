"""The links of a small side, built by hand."""

import numpy as np

from palinode.core import address as addresses
from palinode.core import facts, page
from palinode.core.columns import References, offsets
from palinode.core.discovery import Discovery
from palinode.core.links import Links
from tests.core.build import HTML, Given


def links(host: str, answers: dict[str, Given], by_sitemap: tuple[str, ...] = (), files: tuple[str, ...] = ()) -> Links:
    """Return the links of a side from its paths; some are known by the sitemap alone, and some are files."""
    texts = sorted((path if "://" in path else host + path for path in answers), key=addresses.ident)
    given = {path if "://" in path else host + path: one for path, one in answers.items()}
    ident = addresses.idents(texts)
    status = np.array([given[one][0] if isinstance(given[one][0], int) else -1 for one in texts], np.int16)
    shown = [given[one][0] == 200 and one.removeprefix(host) not in files for one in texts]
    to = [addresses.normal(given[one][1], one) if given[one][0] in page.REDIRECTS else None for one in texts]
    read = {at: facts.read(one, HTML, given[one][1].encode()) for at, one in enumerate(texts) if shown[at]}
    edges = [read[at].edges() if at in read else facts.Facts().edges() for at in range(len(texts))]
    named = {one.ident: one.address for found in read.values() for one in found.references}
    references = References(ident, sum(len(one.targets) for one in edges))
    references.add(np.concatenate([np.zeros(0, np.int64), *(one.targets for one in edges)]))
    refers, elsewhere = references.made()
    every = [*texts, *(named[one] for one in elsewhere.tolist())]
    return Links(
        ident=ident,
        status=status,
        is_page=np.array(shown, bool),
        target=np.array([addresses.ident(one) if one else 0 for one in to], np.int64),
        known=np.array(
            [Discovery.SITEMAP if one.removeprefix(host) in by_sitemap else Discovery.LINK for one in texts], np.int16
        ),
        elsewhere=elsewhere,
        offsets=offsets(np.array([len(one.targets) for one in edges], np.int64)),
        to=refers,
        place=np.concatenate([np.zeros(0, np.uint8), *(one.places for one in edges)]),
        texts=lambda numbers: [every[at] for at in numbers.tolist()],
        reasons=lambda numbers: [str(given[texts[at]][0]) for at in numbers.tolist()],
    )
