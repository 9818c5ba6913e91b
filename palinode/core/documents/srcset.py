"""Image candidates of ``srcset`` and ``imagesrcset`` (WHATWG HTML, "parse a srcset attribute")."""

import re

_CANDIDATE = re.compile(r"[\s,]*([^\s]+?)(,+(?=\s|$)|,*$|\s+[^,()]*(?:\([^)]*\)[^,()]*)*(?:,|$))")


def read(written: str) -> list[str]:
    """Return the addresses of the candidates.

    A comma ends an address only at its very end: ``a,b.png 2x`` is one.
    """
    found, at = [], 0
    while at < len(written) and (match := _CANDIDATE.match(written, at)):
        address = match[1].rstrip(",")
        if address and not address.lower().startswith("data:"):
            found.append(address)
        if match.end() <= at:
            break
        at = match.end()
    return found
