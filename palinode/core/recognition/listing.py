"""A listing of a folder's files, made by the server."""

import re

from palinode.core import address as addresses
from palinode.core.fields import Place
from palinode.core.recognition.look import Look

_TITLE = re.compile(r"^(index of|directory listing (for|of)|verzeichnis(inhalt)? von|contents of) ?/", re.MULTILINE)
_FEWEST = 3


def recognise(look: Look) -> str:
    """Return by what it is recognised, or an empty string.

    Its links lead into this very folder, and to the one above it; their labels are the files' own names.
    """
    if not look.path.endswith("/"):
        return ""
    links = [one for one in look.references if one.place in (Place.LINK, Place.TEMPLATE_LINK)]
    if not links:
        return ""
    folder = addresses.split(look.address)._replace(query="").text
    below = [one for one in links if one.address.startswith(folder) and _is_name(one.address[len(folder) :])]
    titled = _TITLE.search(look.headline) is not None
    parent = any(one.written.strip() in ("../", "..") or folder.startswith(one.address) for one in links)
    own_names = sum(_label(one.label) in one.written for one in below if one.label)
    if titled and (below or parent):
        return f"its title, and {len(below)} links to the folder's own files"
    if parent and len(below) >= _FEWEST and own_names >= 0.8 * len(below) and len(below) >= 0.8 * (len(links) - 6):
        return f"{len(below)} links named as the folder's own files, and one to the folder above"
    return ""


def _is_name(rest: str) -> bool:
    return bool(rest) and not rest.startswith("?") and "/" not in rest.rstrip("/")


def _label(label: str) -> str:
    return label.strip().rstrip("/").split("..>")[0]
