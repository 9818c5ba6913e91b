"""The template is another than at the source: another theme, menu, header or footer."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.weight import Weight
from palinode.core.wording import number

_KINDS = (kinds.TEMPLATE_TEXT, kinds.TEMPLATE_LINK, kinds.TEMPLATE_STYLES)


def template_differs(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for all that differs in menus, headers, footers and style sheets."""
    found = ground.shared(free, *_KINDS)
    if not found:
        return
    styles = [one for one in found.values() if one.kind == kinds.TEMPLATE_STYLES]
    pages = max(one.pages for one in found.values())
    theme = bool(styles) and " gone" in styles[0].detail
    first = max(found.values(), key=lambda one: (one.pages, -_KINDS.index(one.kind)))
    said = f"{number(len(found), 'difference')}, on up to {number(pages, 'page')}: {first.detail}"
    yield Cause(
        "theme_differs" if theme else "template_differs",
        Weight.MEND,
        "The theme is another than at the source" if theme else "Menu, header or footer differ from the source",
        f"{said}{'.' if len(found) == 1 else ', and others.'}",
        "Switch on the theme that the source uses, in the same version, with its menus and widgets. Then capture again."
        if theme
        else "Compare menus, widgets and footer texts in the site's settings. Then capture again.",
        ground.at(found),
        pages,
        {},
        everywhere=True,
        instead="If a new look is meant, accept these findings with that reason." if theme else "",
    )
