"""Small sides of a comparison, built by hand."""

import numpy as np

from palinode.core import address as addresses
from palinode.core import compare, facts, page, rule
from palinode.core.columns import PageDetails, PageFacts, SideColumns
from palinode.core.compare import Retired
from palinode.core.fields import Field, Place
from palinode.core.ledger import Ledger

OLD, NEW = "http://old.example", "http://new.example"
HTML = {"content-type": "text/html"}

Given = tuple[int | str, str]
"""Status with body, a status with where it redirects to, or the reason why nothing was fetched."""


def side(host: str, answers: dict[str, Given], limits: tuple[str, ...] = ()) -> tuple[SideColumns, PageDetails]:
    """Return the columns and details of a side from its paths."""
    rows = sorted((addresses.ident(host + path), path, given) for path, given in answers.items())
    idents = np.array([row[0] for row in rows], np.int64)
    status = np.array([given[0] if isinstance(given[0], int) else -1 for _, _, given in rows], np.int16)
    is_page = np.array([page.is_page(int(code), "text/html") for code in status], bool)
    target = np.array(
        [addresses.ident(addresses.normal(given[1], host + path) or "") if code in page.REDIRECTS else 0
         for (_, path, given), code in zip(rows, status, strict=True)],
        np.int64,
    )  # fmt: skip
    read = [
        facts.read(host + path, HTML, given[1].encode())
        for (_, path, given), yes in zip(rows, is_page, strict=True)
        if yes
    ]
    compared = [[r for r in one.references if r.place < len(Field)] for one in read]
    columns = PageFacts(
        ident=idents[is_page],
        title=[one.title for one in read],
        noindex=np.array(["noindex" in one.robots for one in read], bool),
        whole=np.array([one.whole() for one in read], np.int64),
        offsets=np.concatenate([[0], np.cumsum([len(one) for one in compared])]).astype(np.int64),
        targets=np.array([r.ident for one in compared for r in one], np.int64),
        places=np.array([r.place for one in compared for r in one], np.uint8),
    )
    details = PageDetails(
        ident=idents[is_page],
        words=np.array([one.words for one in read]),
        images=np.array([one.count(Place.IMAGE) for one in read]),
        links=np.array([one.count(Place.LINK) for one in read]),
        forms=np.array([sum(form.main for form in one.forms) for one in read]),
        prints=np.array([one.fingerprints() for one in read]).reshape(-1, len(Field)),
    )
    texts = {r.ident: r.address for one in compared for r in one}
    elsewhere = np.array(sorted(set(texts) - set(idents.tolist())), np.int64)
    return (
        SideColumns(
            home=f"{host}/",
            ident=idents,
            text=[host + path for _, path, _ in rows],
            status=status,
            is_page=is_page,
            target=target,
            reason={i: str(given[0]) for i, (_, _, given) in enumerate(rows) if isinstance(given[0], str)},
            facts=columns,
            limits=limits,
            elsewhere=elsewhere,
            elsewhere_text=[texts[ident] for ident in elsewhere.tolist()],
        ),
        details,
    )


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
