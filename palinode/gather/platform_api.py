"""Asks public APIs for all that they show: WordPress's (REST, /wp-json/), and listings that a person mapped."""

from collections.abc import AsyncIterator, Callable, Sequence
from dataclasses import dataclass
from typing import Any

import aiohttp
import orjson
import yarl

from palinode.core import address as addresses
from palinode.core import page
from palinode.core.exports import json_listing, rest
from palinode.core.exports.json_listing import JsonMapping, MappingError
from palinode.gather import client
from palinode.gather.access import Access
from palinode.gather.exchange import Exchange
from palinode.gather.fetch import fetch
from palinode.gather.guard import Guard

_EACH = 100
"""Items of a page: the most that the API gives."""
MOST_PAGES = 20_000
_MOST_ROUTES = 200
"""Types, and taxonomies, that are asked for."""
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

    async def entries(self, mapping: JsonMapping, address: str) -> tuple[list[dict[str, str]], str]:
        """Return the entries of a page of a listing, and the address of the next one; empty for none.

        Raises ApiRefusedError and MappingError.
        """
        exchange = await self._followed(address)
        if exchange.status != 200:
            raise ApiRefusedError(f"{address} answers {exchange.status or exchange.reason}")
        body, fault = exchange.decoded()
        try:
            answer = orjson.loads(body)
        except orjson.JSONDecodeError as error:
            raise ApiRefusedError(f"{address} does not answer in JSON ({fault or error})") from None
        found = json_listing.entries(mapping, answer)
        named = json_listing.text(json_listing.at(answer, mapping.next)) if mapping.next else ""
        following = addresses.normal(named, address) if named else None
        return found, following if following and _is_same_host(following, address) else ""

    async def listing(self, mapping: JsonMapping) -> AsyncIterator[bytes]:
        """Yield lines of all entries of a listing; a line that says why, where it ends too early."""
        try:
            address, number, before = _first(self._access, mapping), 1, ""
            while address and number <= MOST_PAGES:
                found, following = await self.entries(mapping, address)
                if not found or found[0]["identity"] == before:
                    return
                yield rest.line(rest.LISTED, 0, found)
                before, number = found[0]["identity"], number + 1
                address = _numbered(address, mapping.page, number) if mapping.page else following
        except (ApiRefusedError, MappingError) as error:
            yield rest.refusal(mapping.noun, str(error))

    async def _followed(self, address: str) -> Exchange:
        for _ in range(_HOPS):
            exchange = await fetch(self._session, self._access, address)
            to = addresses.normal((exchange.headers or {}).get("location", ""), address)
            if exchange.status not in page.REDIRECTS or to is None or not _is_same_host(to, address):
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


def _first(access: Access, mapping: JsonMapping) -> str:
    """Return the address of the first page of a listing. Raises MappingError for one of another host."""
    address = addresses.normal(mapping.address.strip(), access.base)
    if address is None or not any(_is_same_host(address, base) for base in access.bases):
        raise MappingError("address", "It is no address of this site.")
    return _numbered(address, mapping.page, 1) if mapping.page else address


def _numbered(address: str, parameter: str, number: int) -> str:
    """Return an address with a parameter that numbers its page."""
    return str(yarl.URL(address, encoded=True).update_query({parameter: str(number)}))


async def lines(
    access: Access,
    guard: Guard,
    agent: str,
    mappings: Sequence[JsonMapping],
    signed_in: bool,
    count: Callable[[int], None],
) -> AsyncIterator[bytes]:
    """Yield the lines of a file that holds all that a site's APIs show: WordPress's, and listings by ``mappings``.

    ``count`` is told how many bytes came. ``signed_in``: the access holds an account of WordPress, and drafts and what
    is waiting are asked for too. Raises ApiRefusedError where nothing answers, or does not know that account.
    """
    async with client.session(access, guard, 1, agent) as session:
        asking = _Asking(session, access)
        size = 0
        async for one in _all(asking, mappings, signed_in):
            size += len(one)
            count(size)
            yield one


async def listed(access: Access, guard: Guard, agent: str, mapping: JsonMapping) -> tuple[list[dict[str, str]], str]:
    """Return the entries of the first page of a listing, and the address of the next page; empty for none.

    Raises ApiRefusedError and MappingError.
    """
    async with client.session(access, guard, 1, agent) as session:
        return await _Asking(session, access).entries(mapping, _first(access, mapping))


async def _all(asking: _Asking, mappings: Sequence[JsonMapping], signed_in: bool) -> AsyncIterator[bytes]:
    try:
        site = await asking.begin()
    except ApiRefusedError:
        if signed_in or not mappings:
            raise
        site = {}
    if signed_in:
        # Else each route would be refused by itself, and the file hold nothing.
        await asking.ask("/wp/v2/users/me", "context=edit&_fields=id")
    yield rest.first_line(site)
    if site:
        async for one in _of_wordpress(asking, signed_in):
            yield one
    for mapping in mappings:
        async for one in asking.listing(mapping):
            yield one


async def _of_wordpress(asking: _Asking, signed_in: bool) -> AsyncIterator[bytes]:
    types = (await asking.ask("/wp/v2/types", "")).data
    signed = "&context=edit" if signed_in else ""
    for name, one in list(types.items())[:_MOST_ROUTES]:
        if name in _NOT_SHOWN:
            continue
        status = "&status=any" if signed_in and name != "attachment" else ""
        async for found in asking.all("posts", f"/wp/v2/{one.get('rest_base', name)}", status + signed):
            yield found
    for one in list((await asking.ask("/wp/v2/taxonomies", "")).data.values())[:_MOST_ROUTES]:
        async for found in asking.all("terms", f"/wp/v2/{one.get('rest_base')}", signed):
            yield found
    for what in ("comments", "users"):
        async for found in asking.all(what, f"/wp/v2/{what}", signed):
            yield found


def _is_same_host(one: str, other: str) -> bool:
    """Whether two addresses are of one host, with www or without, over http or https."""
    return addresses.bare_host(addresses.split(one).host) == addresses.bare_host(addresses.split(other).host)


def _number(text: str | None) -> int:
    return int(text) if text and text.isdigit() else 0
