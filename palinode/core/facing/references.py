"""What two pages refer to, facing each other: links, images, and where forms are sent."""

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

Verdict = Literal["same", "as mapped", "other target", "other address", "missing", "added"]
"""Another address: the same image, known by its contents, stands under another one."""

Contents = tuple[Mapping[str, int], Mapping[str, int]]
"""Of either side: address of an image to a number that tells its contents."""


@dataclass(frozen=True)
class Shown:
    """A link or an image of one page."""

    group: str
    """``link``, ``image``, ``menu``, ``form`` …"""
    address: str
    label: str
    """A link's text, an image's alternative, a form's method and fields."""


@dataclass(frozen=True)
class Beside:
    """A reference beside its partner; a side without one is None."""

    group: str
    left: Shown | None
    right: Shown | None
    verdict: Verdict

    @property
    def differs(self) -> bool:
        """Whether it is more than the rule explains."""
        return self.verdict not in ("same", "as mapped")


def beside(
    left: Sequence[Shown], right: Sequence[Shown], expected: Mapping[str, str], contents: Contents
) -> list[Beside]:
    """Set references facing, in the order of the left page; what only the right page has stands after it.

    ``expected`` says where addresses of the left page are expected at the destination, ``contents`` what images
    hold.
    """
    rows: list[tuple[int, Beside]] = []
    for group in dict.fromkeys(one.group for one in (*left, *right)):
        ours = [(place, one) for place, one in enumerate(left) if one.group == group]
        theirs = [one for one in right if one.group == group]
        rows += _group(group, ours, theirs, expected, contents, len(left))
    return [row for _, row in sorted(rows, key=lambda placed: placed[0])]


def _group(
    group: str,
    left: list[tuple[int, Shown]],
    right: list[Shown],
    expected: Mapping[str, str],
    contents: Contents,
    end: int,
) -> Iterator[tuple[int, Beside]]:
    free = list(range(len(right)))
    partner: dict[int, tuple[int, Verdict]] = {}

    def match(ours: Iterable[tuple[int, object]], theirs: Iterable[tuple[int, object]], verdict: Verdict) -> None:
        waiting = defaultdict(list)
        for at, key in theirs:
            waiting[key].append(at)
        for place, key in ours:
            if key and place not in partner and waiting[key]:
                partner[place] = (waiting[key].pop(0), verdict)
        taken = {at for at, _ in partner.values()}
        free[:] = [at for at in free if at not in taken]

    def waiting_left() -> list[tuple[int, Shown]]:
        return [(place, one) for place, one in left if place not in partner]

    # By target and label, by target, by contents, by label: the surest first.
    match(
        ((place, (expected.get(one.address, one.address), one.label)) for place, one in left),
        ((at, (right[at].address, right[at].label)) for at in free),
        "same",
    )
    match(
        ((place, expected.get(one.address, one.address)) for place, one in waiting_left()),
        ((at, right[at].address) for at in free),
        "same",
    )
    match(
        ((place, contents[0].get(one.address, 0)) for place, one in waiting_left()),
        ((at, contents[1].get(right[at].address, 0)) for at in free),
        "other address",
    )
    match(((place, one.label) for place, one in waiting_left()), ((at, right[at].label) for at in free), "other target")
    for place, one in left:
        at, verdict = partner.get(place, (-1, "missing"))
        if at < 0:
            yield place, Beside(group, one, None, "missing")
            continue
        mapped: Verdict = "as mapped" if verdict == "same" and one.address != right[at].address else verdict
        yield place, Beside(group, one, right[at], mapped)
    for at in free:
        yield end + at, Beside(group, None, right[at], "added")
