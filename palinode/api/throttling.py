"""How often something may be tried: signing in by address and by account, asking hosts by account.

A client's address is the one that connects, unless the installation says how many proxies stand before it
(PALINODE_PROXIES); a header that anybody can write counts for nothing.
"""

import hashlib
from typing import Any

from rest_framework.request import Request
from rest_framework.throttling import ScopedRateThrottle, SimpleRateThrottle, UserRateThrottle


class ByAddress(ScopedRateThrottle):
    """Attempts to get in, from one address."""

    scope_attr = "throttle_scope"


class ByAccount(SimpleRateThrottle):
    """Attempts to get into one account, from wherever they come."""

    scope = "sign_in_account"

    def get_cache_key(self, request: Request, view: Any) -> str | None:
        """Return the key under which attempts are counted: of the account that is named, or that is signed in."""
        if request.user.is_authenticated:
            named = request.user.get_username()
        else:
            given = request.data.get("username") if isinstance(request.data, dict) else None
            named = given if isinstance(given, str) else ""
        digest = hashlib.sha256(named.strip().lower().encode("utf-8", "replace")).hexdigest()
        return f"throttle_{self.scope}_{digest}" if named else None


class Drafts(UserRateThrottle):
    """What is worked out while a person waits, for one account."""

    scope = "drafts"


class Outward(UserRateThrottle):
    """What connects to other hosts on a click, for one account."""

    scope = "outward"
