"""Markers in the text that an extension or a template was to replace: shortcodes, placeholders, code."""

import re

from palinode.core.difference_signs.text import Text

_MARKER = re.compile(
    r"\[/?[a-z][a-z0-9]*(?:[_-][a-z0-9]+)+(?:\s[^\[\]]{0,200})?/?\]"  # [contact-form id="3"]
    r"|\[[a-z][a-z0-9_-]+(?:\s+[a-z_-]+=[\"'“”″]?[^\[\]]{0,200})\]"  # [gallery ids="1,2"]
    r"|\[/[a-z][a-z0-9_-]+\]"  # [/caption]
    r"|\[(?:gallery|caption|audio|video|embed|playlist|form|map|slider|toc|table)\]"
    r"|\{\{\s?[\w.| -]{1,80}\s?\}\}|\{%\s?[^%]{1,80}\s?%\}|<\?(?:php|=)|%%[a-z_]{2,40}%%"
)


def shown(left: Text, right: Text) -> bool:
    """Whether the right page shows markers that the left one does not."""
    text = right.whole
    if not any(sign in text for sign in ("[", "{{", "{%", "<?", "%%")):
        return False
    return bool(set(_MARKER.findall(text)) - set(_MARKER.findall(left.whole)))
