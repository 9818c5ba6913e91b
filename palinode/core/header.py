"""Header fields that a person may have sent along (RFC 9110 section 5.1)."""

import re

_TOKEN = re.compile(r"[A-Za-z0-9!#$%&'*+.^_`|~-]{1,100}")
_OURS = frozenset({"host", "authorization", "cookie", "connection", "content-length", "user-agent", "accept-encoding"})
"""Fields that are not for a person to set: Palinode sends them itself."""


def is_ours(name: str) -> bool:
    """Whether Palinode sends a field of this name itself."""
    return name.lower() in _OURS


def may_be_sent(name: str) -> bool:
    """Whether a person may have a field of this name sent along; no name is no field."""
    return not name or (_TOKEN.fullmatch(name) is not None and not is_ours(name))
