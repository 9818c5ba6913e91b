"""Titles: those that end or begin otherwise than at the source, and those that are gone."""

from collections.abc import Iterator

import numpy as np

from palinode.core.differences.difference import Difference, DifferingPairs
from palinode.core.fields import Field

_SHORTEST = 3
"""Characters that two titles begin or end with alike, so that the rest is what changed."""
_FEWEST = 2

TitleForm = tuple[str, str, str]
"""``end``, ``begin``, ``whole`` or ``missing``; what stood there, and what stands there now."""


def titles(pairs: DifferingPairs) -> Iterator[Difference]:
    """Yield differences of titles; of the forms that a pair may show, the one that most pairs show."""
    forms: dict[TitleForm, list[int]] = {}
    alone: dict[int, TitleForm] = {}
    for place in pairs.differ(Field.TITLE).tolist():
        left, right = pairs.left.title[place], pairs.right.title[place]
        alone[place] = ("whole", left, right)
        for form in _forms(left, right):
            forms.setdefault(form, []).append(place)
    for form, places in sorted(forms.items(), key=lambda one: (-len(one[1]), one[0])):
        here = [place for place in places if place in alone]
        if len(here) >= _FEWEST or (here and form[0] == "missing"):
            for place in here:
                del alone[place]
            yield _difference(form, here)
    whole: dict[TitleForm, list[int]] = {}
    for place, form in alone.items():
        whole.setdefault(form, []).append(place)
    yield from (_difference(form, places) for form, places in whole.items())


def _difference(form: TitleForm, places: list[int]) -> Difference:
    where, before, after = form
    locus = f"{where}\n{before}" if where == "whole" else f"{where}\n{before}\n{after}"
    return Difference(Field.TITLE, locus, _detail(*form), np.array(sorted(places), np.int64))


def _forms(left: str, right: str) -> Iterator[TitleForm]:
    if not right:
        yield "missing", "", ""
        return
    if (same := _alike(left, right)) >= _SHORTEST:
        yield "end", left[same:].strip(), right[same:].strip()
    if (same := _alike(left[::-1], right[::-1])) >= _SHORTEST:
        yield "begin", left[: len(left) - same].strip(), right[: len(right) - same].strip()


def _alike(one: str, other: str) -> int:
    """Return with how many characters two texts begin alike, up to the end of a word."""
    same = 0
    for a, b in zip(one, other, strict=False):
        if a != b:
            break
        same += 1
    while same and not (_ends_word(one, same) and _ends_word(other, same)):
        same -= 1
    return same


def _ends_word(text: str, at: int) -> bool:
    """Whether no word of a text goes on over a place."""
    return at == len(text) or text[at - 1].isspace() or text[at].isspace()


def _detail(where: str, before: str, after: str) -> str:
    if where == "missing":
        return "title missing"
    if where == "whole":
        return f"title now “{after[:60]}{'…' if len(after) > 60 else ''}”"
    verb = "ends" if where == "end" else "begins"
    if not after:
        return f"title {verb} without “{before[:60]}”"
    return f"title {verb} with “{after[:60]}”" + (f" in place of “{before[:60]}”" if before else "")
