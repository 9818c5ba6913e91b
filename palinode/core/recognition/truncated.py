"""A page that breaks off: its markup ends in the middle of a tag, a comment or a script."""

import re

from palinode.core.recognition.look import Look

_TAIL = 20_000
_RAW = re.compile(r"<(script|style|textarea|title)\b[^>]*+>", re.IGNORECASE)
_HALF_TAG = re.compile(r"</?[a-z][a-z0-9-]*(\s[^<>]*)?$", re.IGNORECASE)


def recognise(look: Look) -> str:
    """Return by what it is recognised, or an empty string.

    A page may leave its last end tags out, and many do; none leaves out the end of a tag.
    """
    tail = look.source.rstrip()[-_TAIL:]
    if look.cut or not tail or tail.endswith("</html>"):
        return ""
    if (at := tail.rfind("<!--")) > tail.rfind("-->"):
        return f"it ends inside a comment, {len(tail) - at:,} characters after its beginning"
    last = None
    for last in _RAW.finditer(tail):  # noqa: B007
        pass
    if last and f"</{last[1].lower()}" not in tail[last.end() :].lower():
        return f"it ends inside <{last[1].lower()}>"
    if half := _HALF_TAG.search(tail[-2_000:]):
        return f"it ends inside a tag: {half[0][:40]}"
    return ""
