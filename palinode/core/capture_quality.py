"""How good a capture is: a sentence and its grounds; only one that stands is fit to be the baseline."""

from collections.abc import Iterator, Mapping, Sequence, Set
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from palinode.core import page
from palinode.core.pattern import FOUND_LATE, REPEATING
from palinode.core.recognition.page_kind import PageKind
from palinode.core.wording import number, sentence

_NAMED = 0.01
_MOST_UNREAD = 0.1
_MOST_RECOGNISED = 0.5
_MOST_ALIKE = 0.5
_FEWEST_ALIKE = 5
_FEWEST_LISTED = 0.9
_MOST_OLDER = 0.2
_MOST_CHANGED = 0.5
_TOLERATED = frozenset({PageKind.LISTING, PageKind.SCRIPTED, PageKind.LOGIN})
"""Kinds of which a whole site may well be made."""


class LeftOut(NamedTuple):
    """What was not asked since others like it brought nothing new."""

    number: int
    asked: int
    """Of the same pattern."""
    fresh: bool
    """Whether some of the last of them still brought something new."""


@dataclass(frozen=True)
class Figures:
    """What a closed capture is judged by."""

    pages: int
    asked: int
    waiting: int = 0
    """Known addresses that were not asked."""
    limits: Sequence[str] = ()
    why: str = ""
    unread: Mapping[str, int] = field(default_factory=dict)
    """Reason to number, of addresses that were not fetched; robots rules are no failure and not among them."""
    left_out: Mapping[str, LeftOut] = field(default_factory=dict)
    """Pattern to what it left out."""
    ignored: Sequence[tuple[str, int, int]] = ()
    """Parameters that do nothing to the content: name, addresses with it, pages that they are."""
    shut_out: int = 0
    """Addresses that robots rules shut out."""
    statuses: Mapping[int, int] = field(default_factory=dict)
    """Status to number, of answers that say no and no more: 401, 403, 429, 5xx and their kin."""
    in_part: int = 0
    """Pages whose body is cut off or broken."""
    recognised: Mapping[PageKind, int] = field(default_factory=dict)
    """Kind to number of pages."""
    home: PageKind | None = PageKind.NONE
    """What the home page was recognised as; None if it gave no page."""
    silent: Sequence[str] = ()
    """Further hosts that gave nothing."""
    alike: int = 0
    """Pages that share the text which most of them share."""
    listed: int = 0
    """Addresses that sitemaps name."""
    listed_pages: int = 0
    """Those of them that gave a page, or led to one."""
    sampled: int = 0
    """Pages that were asked again at the end."""
    changed: int = 0
    """Those of them that had changed since they were captured."""
    volatile: int = 0
    """Parts of pages that change from one asking to the next."""
    older: int = 0
    """Those of them of which a cache holds an older copy."""
    older_by: str = ""
    """For how long, in words."""
    taken_over: int = 0
    """Answers of the capture before that were not asked for again."""


@dataclass(frozen=True)
class Ground:
    """One ground of a judgement; ``against`` it standing, or merely to know."""

    text: str
    against: bool
    share: float = 0.0
    """Of the capture that it concerns; what concerns a hundredth of it is named in the sentence."""


@dataclass(frozen=True)
class Judgement:
    """The judgement of a capture."""

    stands: bool
    sentence: str
    grounds: tuple[Ground, ...]

    def plain(self) -> dict[str, Any]:
        """Return what is kept with the capture and shown."""
        return {
            "stands": self.stands,
            "sentence": self.sentence,
            "grounds": [{"text": one.text, "against": one.against} for one in self.grounds],
        }


def judge(figures: Figures) -> Judgement:
    """Say whether a capture stands, and why."""
    grounds = sorted(_grounds(figures), key=lambda one: (not one.against, -one.share if not one.against else 0))
    against = [one.text for one in grounds if one.against]
    stands = not against
    if not stands:
        said = f"It does not stand: {against[0]}."
    elif grounds and grounds[0].share >= _NAMED:
        more = f" {sentence(number(len(grounds) - 1, 'more thing'))} to know." if len(grounds) > 1 else ""
        said = f"It stands, but {grounds[0].text}.{more}"
    elif grounds:
        said = f"It stands, with {number(len(grounds), 'thing')} to know."
    else:
        said = "It stands: all that was known was asked and read."
    return Judgement(stands, said, tuple(Ground(sentence(one.text), one.against) for one in grounds))


def _grounds(figures: Figures) -> Iterator[Ground]:
    if not figures.pages:
        yield Ground(f"it holds no page{_instead(figures)}", True)
    elif figures.home is None:
        yield Ground("the home page gave no page", True)
    elif figures.home != PageKind.NONE:
        yield Ground(f"the home page is {figures.home.label}", figures.home not in _TOLERATED)
    for host in figures.silent:
        yield Ground(f"{host} gave neither a page nor a file", True)
    for limit in figures.limits:
        yield Ground(limit, True)
    if figures.why:
        yield Ground(figures.why, True)
    if figures.waiting:
        yield Ground(f"{number(figures.waiting, 'known address was', 'known addresses were')} not asked", True)
    if figures.taken_over:
        taken = number(figures.taken_over, "answer was", "answers were")
        yield Ground(f"{taken} taken over from the capture before, not asked for again", False)
    yield from _read(figures)
    yield from _recognised(figures)
    yield from _sampled(figures)
    if figures.listed and figures.listed_pages < figures.listed:
        few = figures.listed_pages < _FEWEST_LISTED * figures.listed
        yield Ground(f"{figures.listed_pages:,} of {figures.listed:,} addresses in the sitemap gave a page", few)


def _read(figures: Figures) -> Iterator[Ground]:
    unread = sum(figures.unread.values())
    if unread:
        worst = max(figures.unread, key=lambda reason: figures.unread[reason])
        yield _shared(figures, unread, f"not fetched, most: {worst}")
    refused = sum(count for status, count in figures.statuses.items() if status in page.CLOSED)
    if refused:
        yield _shared(figures, refused, f"refused ({_named(figures, page.CLOSED)})")
    failed = sum(figures.statuses.values()) - refused
    if failed:
        others = frozenset(figures.statuses) - page.CLOSED
        yield _shared(figures, failed, f"answered with errors of the server ({_named(figures, others)})")
    if figures.in_part:
        yield Ground(f"{number(figures.in_part, 'page was', 'pages were')} read in part only", False)
    for text, (left, asked, fresh) in figures.left_out.items():
        if text == FOUND_LATE.text:
            yield Ground(
                f"{number(left, 'address', 'addresses')} {text} {'was' if left == 1 else 'were'} never asked", True
            )
            continue
        like = "with" if text == REPEATING.text else "like"
        was = number(left, f"address {like}", f"addresses {like}")
        if fresh:
            missing = f"though some of the last of {asked:,} asked brought something new: content may be missing"
            yield Ground(f"{was} {text} {'was' if left == 1 else 'were'} left out, {missing}", True)
        else:
            told = f"the last of {asked:,} asked brought nothing new"
            yield Ground(f"{was} {text} {'was' if left == 1 else 'were'} left out: {told}", False)
    for name, number_with, pages in figures.ignored:
        told = number(pages, "page")
        yield Ground(f"{number_with:,} addresses with {name}= are {told}: it does nothing to the content", False)
    if figures.shut_out:
        yield Ground(f"robots rules shut {number(figures.shut_out, 'address', 'addresses')} out", False)


def _shared(figures: Figures, count: int, what: str) -> Ground:
    """Return the ground that so many addresses were something, with their share where it is a hundredth at least."""
    share = count / max(1, figures.asked)
    part = f" ({share:.0%})".replace("%", " %") if share >= _NAMED else ""
    was = "was" if count == 1 else "were"
    return Ground(
        f"{count:,} of {number(figures.asked, 'address', 'addresses')}{part} {was} {what}", share > _MOST_UNREAD, share
    )


def _named(figures: Figures, statuses: Set[int]) -> str:
    """Return status codes, the most frequent first."""
    some = sorted((one for one in figures.statuses if one in statuses), key=lambda one: -figures.statuses[one])
    return ", ".join(map(str, some[:3]))


def _instead(figures: Figures) -> str:
    """Say what a capture without a page got in place of pages."""
    if not figures.statuses:
        return ""
    status = max(figures.statuses, key=lambda one: figures.statuses[one])
    count = figures.statuses[status]
    if count == figures.asked:
        return f": all that was asked answered {status}"
    return f": {count:,} of {number(figures.asked, 'address', 'addresses')} answered {status}"


def _sampled(figures: Figures) -> Iterator[Ground]:
    of = f"of {number(figures.sampled, 'page')} asked again at the end"
    if figures.older:
        many = figures.older > _MOST_OLDER * figures.sampled
        verb = "is" if figures.older == 1 else "are"
        yield Ground(
            f"a cache or proxy stands in front with an older copy: {figures.older:,} {of} {verb} another one "
            f"past it{figures.older_by}",
            many,
        )
    if figures.changed:
        yield Ground(f"{figures.changed:,} {of} had changed since", figures.changed > _MOST_CHANGED * figures.sampled)
    if figures.volatile:
        told = number(figures.volatile, "part", "parts")
        yield Ground(f"{told} of pages change from one asking to the next and are not compared", False)


def _recognised(figures: Figures) -> Iterator[Ground]:
    for kind, count in sorted(figures.recognised.items(), key=lambda item: -item[1]):
        if kind == PageKind.NONE:
            continue
        most = kind not in _TOLERATED and count > _MOST_RECOGNISED * figures.pages
        verb = "is" if count == 1 else "are"
        yield Ground(f"{number(count, 'page')} of {figures.pages:,} {verb} {kind.label}", most)
    if figures.alike >= _FEWEST_ALIKE and figures.alike > _MOST_ALIKE * figures.pages:
        yield Ground(f"{number(figures.alike, 'page')} of {figures.pages:,} say the very same", True)
