"""Small sides of a comparison, built by hand."""

import numpy as np

from palinode.core import address as addresses
from palinode.core import compare, facts, page, rule
from palinode.core.columns import LeftColumns, PageDetails, offsets, referred
from palinode.core.compare import Retired
from palinode.core.facts import Facts
from palinode.core.fields import Field, Place
from palinode.core.ledger import Ledger

OLD, NEW = "http://old.example", "http://new.example"
HTML = {"content-type": "text/html"}

Given = tuple[int | str, str]
"""Status with body, a status with where it redirects to, or the reason why nothing was fetched."""


def side(host: str, answers: dict[str, Given], limits: tuple[str, ...] = ()) -> tuple[LeftColumns, PageDetails]:
    """Return the columns and details of a side from its paths."""
    rows = [(addresses.ident(host + path), path, given) for path, given in answers.items()]
    idents = np.array([row[0] for row in rows], np.int64)
    status = np.array([given[0] if isinstance(given[0], int) else -1 for _, _, given in rows], np.int16)
    is_page = np.array([page.is_page(int(code), "text/html") for code in status], bool)
    target = np.array(
        [addresses.ident(addresses.normal(given[1], host + path) or "") if code in page.REDIRECTS else 0
         for (_, path, given), code in zip(rows, status, strict=True)],
        np.int64,
    )  # fmt: skip
    read = {
        row: facts.read(host + path, HTML, given[1].encode())
        for row, (_, path, given) in enumerate(rows)
        if is_page[row]
    }
    referring = [read.get(row, Facts()).edges() for row in range(len(rows))]
    sizes = np.array([one.compared for one in referring], np.int64)
    targets = np.concatenate([np.zeros(0, np.int64), *(one.targets[: one.compared] for one in referring)])
    places = np.concatenate([np.zeros(0, np.uint8), *(one.places[: one.compared] for one in referring)])
    texts = {r.ident: r.address for one in read.values() for r in one.references}
    refers_to, elsewhere = referred(idents, targets)
    details = PageDetails(
        ident=idents[is_page],
        text=[host + rows[row][1] for row in read],
        title=[one.title for one in read.values()],
        words=np.array([one.words for one in read.values()]),
        images=np.array([referring[row].count(Place.IMAGE) for row in read]),
        links=np.array([referring[row].count(Place.LINK) for row in read]),
        forms=np.array([sum(form.main for form in one.forms) for one in read.values()]),
        prints=np.array([one.fingerprints() for one in read.values()], np.int64).reshape(-1, len(Field)),
        targets=targets,
        places=places,
        offsets=offsets(sizes[is_page]),
    )
    columns = LeftColumns(
        home=f"{host}/",
        limits=limits,
        reason={i: str(given[0]) for i, (_, _, given) in enumerate(rows) if isinstance(given[0], str)},
        ident=idents,
        status=status,
        is_page=is_page,
        target=target,
        noindex=np.array([row in read and "noindex" in read[row].robots for row in range(len(rows))], bool),
        recognised=np.array([read[row].recognised.kind if row in read else 0 for row in range(len(rows))], np.int16),
        whole=np.array(
            [facts.whole(read[row].fingerprints()) if row in read else 0 for row in range(len(rows))], np.int64
        ),
        edge_sum=np.array([one.sum for one in referring], np.int64),
        text=[host + path for _, path, _ in rows],
        title=[read[row].title if row in read else "" for row in range(len(rows))],
        targets=targets,
        places=places,
        offsets=offsets(sizes),
        refers_to=refers_to,
        elsewhere=[texts[ident] for ident in elsewhere.tolist()],
    )
    return columns, details


def ledger(
    left: dict[str, Given],
    right: dict[str, Given],
    lines: str = "",
    retired: Retired | None = None,
    limits: tuple[str, ...] = (),
) -> Ledger:
    """Return the ledger of two sides."""
    one, one_details = side(OLD, left)
    other, other_details = side(NEW, right, limits)
    paired = compare.pair(one, other, rule.read(f"{OLD}/ -> {NEW}/\n{lines}"))
    return compare.judge(paired, one_details, other_details, retired or Retired())


def html(title: str, text: str = "", head: str = "") -> Given:
    """Return a page."""
    return (
        200,
        f"<html><head><title>{title}</title>{head}</head><body><main><p>{text or title}</p></main></body></html>",
    )
