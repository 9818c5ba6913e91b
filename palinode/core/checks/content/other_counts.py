"""What evidence counts besides that whose items face each other: of a dump beside an export, of each installation."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from operator import itemgetter

from palinode.core.checks.content.facing_tables import FacingTable
from palinode.core.platforms.items import Installation, SiteItems


class OtherCounts:
    """The counts of all evidence of both sides."""

    def __init__(self, left: Sequence[SiteItems], right: Sequence[SiteItems]) -> None:
        self._counted = [
            (side, one.kind, installation, _numbers(installation))
            for side, held in (("source", left), ("destination", right))
            for one in held
            for installation in one.installations
        ]

    def of(self, table: FacingTable, noun: str, status: str) -> dict[str, int]:
        """Return what is counted of a noun and status beside a table, by side and kind.

        What counts nothing that is called so is left out. Of several installations that of the table's prefix is meant;
        where the table's installation is the only one of its platform, any of that platform, else what a listing says.
        """
        found: dict[str, list[tuple[int, int]]] = defaultdict(list)
        for side, kind, installation, numbers in self._counted:
            rank = _rank(installation, table.installations[side == "destination"], bool(table.label))
            if rank is not None and (noun, status) in numbers:
                found[f"{side}_{kind}"].append((rank, numbers[noun, status]))
        return {name: min(counted, key=itemgetter(0))[1] for name, counted in found.items()}


def _rank(one: Installation, beside: Installation, is_one_of_several: bool) -> int | None:
    """Return how near an installation is to another, the nearest first; None for one of another site."""
    if one.platform is beside.platform and one.prefix == beside.prefix:
        return 0
    if is_one_of_several:
        return None
    return 1 if one.platform is beside.platform else 2


def _numbers(one: Installation) -> Mapping[tuple[str, str], int]:
    return {(count.noun, count.status): count.number for count in one.counts()}
