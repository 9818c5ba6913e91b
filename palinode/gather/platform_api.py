"""Asks the public API of a content platform for all that it shows: WordPress's (REST, /wp-json/)."""

from collections.abc import AsyncIterator, Callable
from dataclasses import dataclass
from typing import Any

import aiohttp
import orjson

from palinode.core import address as addresses
from palinode.core import page
from palinode.core.exports import rest
from palinode.gather import client
from palinode.gather.access import Access
from palinode.gather.exchange import Exchange
from palinode.gather.fetch import fetch
from palinode.gather.guard import Guard

_EACH = 100
"""Items of a page: the most that the API gives."""
MOST_PAGES = 20_000
_HOPS = 3
_NOT_SHOWN = frozenset(
    {"nav_menu_item", "wp_block", "wp_template", "wp_template_part", "wp_global_styles", "wp_navigation",
     "wp_font_family", "wp_font_face"}
)  # fmt: skip
"""Types that the API lists and no visitor sees."""
_PLAIN = "?rest_route="
"""Where a site without permalinks has its API."""


class ApiRefusedError(ValueError):
    """A site has no such API, or does not let us at it; the message is for a person."""


@dataclass(frozen=True)
class _Answer:
    data: Any
    total: int
    pages: int


class _Asking:
    """One site's API."""

    def __init__(self, session: aiohttp.ClientSession, access: Access) -> None:
        self._session, self._access = session, access
        ours = access.credentials_for(access.base)
        self.signed_in = bool(ours and ours.user_name and ours.sign_in == "basic")
        self._root = f"{access.base}wp-json"

    async def begin(self) -> dict[str, Any]:
        """Return what the API says of its site, wherever it stands. Raises ApiRefusedError."""
        faults = []
        for root in (f"{self._access.base}wp-json", f"{self._access.base}{_PLAIN}"):
            self._root = root
            try:
                found = (await self.ask("/", "")).data
            except ApiRefusedError as error:
                faults.append(str(error))
                continue
            if isinstance(found, dict) and "routes" in found:
                return found
            faults.append(f"{root}/ answers, but not as WordPress does")
        raise ApiRefusedError(f"There is no public API of WordPress: {'; '.join(faults)}.")

    async def ask(self, route: str, query: str) -> _Answer:
        """Ask a route. Raises ApiRefusedError."""
        mark = "&" if _PLAIN in self._root else "?"
        address = f"{self._root}{route}{mark + query if query else ''}"
        exchange = await self._followed(address)
        if exchange.status is None:
            raise ApiRefusedError(f"{route} was not fetched: {exchange.reason}")
        body, fault = exchange.decoded()
        try:
            data = orjson.loads(body)
        except orjson.JSONDecodeError:
            data = None
        if exchange.status != 200 or fault or data is None:
            said = data.get("message", "") if isinstance(data, dict) else ""
            raise ApiRefusedError(f"{route} answers {exchange.status}{f', “{said[:120]}”' if said else ''}{fault}")
        headers = exchange.headers or {}
        return _Answer(data, _number(headers.get("x-wp-total")), _number(headers.get("x-wp-totalpages")))

    async def _followed(self, address: str) -> Exchange:
        for _ in range(_HOPS):
            exchange = await fetch(self._session, self._access, address)
            to = addresses.normal((exchange.headers or {}).get("location", ""), address)
            if exchange.status not in page.REDIRECTS or to is None:
                break
            address = to
        return exchange

    async def all(self, what: str, route: str, query: str) -> AsyncIterator[bytes]:
        """Yield lines of all items of a route; a line that says why, where it is not answered."""
        number = 1
        while number <= MOST_PAGES:
            asked = f"per_page={_EACH}&page={number}&orderby=id&order=asc&_fields={rest.FIELDS[what]}{query}"
            try:
                answer = await self.ask(route, asked)
            except ApiRefusedError as error:
                yield rest.refusal(route, str(error))
                return
            if not isinstance(answer.data, list):
                yield rest.refusal(route, f"{route} does not answer with a list")
                return
            yield rest.line(what, answer.total, answer.data)
            if number >= answer.pages or not answer.data:
                return
            number += 1


async def lines(access: Access, guard: Guard, agent: str, count: Callable[[int], None]) -> AsyncIterator[bytes]:
    """Yield the lines of a file that holds all that a site's API shows; ``count`` is told how many bytes came.

    Where credentials were typed for the side, drafts and what is waiting are asked for too. Raises ApiRefusedError.
    """
    async with client.session(access, guard, 1, agent) as session:
        asking = _Asking(session, access)
        site = await asking.begin()
        size = 0
        async for one in _all(asking, site):
            size += len(one)
            count(size)
            yield one


async def _all(asking: _Asking, site: dict[str, Any]) -> AsyncIterator[bytes]:
    yield rest.first_line(site)
    types = (await asking.ask("/wp/v2/types", "")).data
    signed = "&context=edit" if asking.signed_in else ""
    for name, one in types.items():
        if name in _NOT_SHOWN:
            continue
        status = "&status=any" if asking.signed_in and name != "attachment" else ""
        async for found in asking.all("posts", f"/wp/v2/{one.get('rest_base', name)}", status + signed):
            yield found
    for one in (await asking.ask("/wp/v2/taxonomies", "")).data.values():
        async for found in asking.all("terms", f"/wp/v2/{one.get('rest_base')}", signed):
            yield found
    for what in ("comments", "users"):
        async for found in asking.all(what, f"/wp/v2/{what}", signed):
            yield found


def _number(text: str | None) -> int:
    return int(text) if text and text.isdigit() else 0
