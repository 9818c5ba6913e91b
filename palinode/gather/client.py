"""One HTTP client for everything that is asked of a side."""

import socket
import ssl
from functools import cache

import aiohttp
from aiohttp.abc import AbstractResolver, ResolveResult

from palinode.core import address as addresses
from palinode.gather.access import Access
from palinode.gather.guard import Guard


class Resolver(AbstractResolver):
    """Resolves by the side's connect-to lines first, then as DNS says."""

    def __init__(self, access: Access) -> None:
        self._lines = {(line.host, line.port): line for line in access.connect_to}
        self._dns = aiohttp.ThreadedResolver()

    async def resolve(
        self, host: str, port: int = 0, family: socket.AddressFamily = socket.AF_UNSPEC
    ) -> list[ResolveResult]:
        """Return the addresses to try for ``host:port``."""
        line = self._lines.get((host, port))
        if line is None:
            return await self._dns.resolve(host, port, family)
        found = await self._dns.resolve(line.address, line.to_port, family)
        return [ResolveResult({**one, "hostname": host}) for one in found]

    async def close(self) -> None:
        """Release the resolver."""
        await self._dns.close()


def session(
    access: Access, guard: Guard, concurrency: int, agent: str, seconds: float = 60, silent: float = 20
) -> aiohttp.ClientSession:
    """Return a client that reaches a side; close it after use.

    An answer may take so many ``seconds``, and be ``silent`` for so many of them at a time.

    Bodies come as sent: coding is undone by the caller, within bounds. No cookies, no redirects.
    """
    connector = aiohttp.TCPConnector(
        limit=concurrency,
        resolver=Resolver(access),
        ssl=_certificates(access.authorities, access.any_certificate),
        socket_factory=guard.socket,
        ttl_dns_cache=30,
    )
    return aiohttp.ClientSession(
        connector=connector,
        cookie_jar=aiohttp.DummyCookieJar(),
        auto_decompress=False,
        headers={"User-Agent": agent, "Accept": "*/*", "Accept-Encoding": "gzip, deflate"},
        timeout=aiohttp.ClientTimeout(total=seconds, sock_connect=min(10, seconds), sock_read=min(silent, seconds)),
        middlewares=_digest(access),
        skip_auto_headers=("Content-Type",),
        trust_env=False,
    )


def secret_fields(access: Access, address: str) -> dict[str, str]:
    """Return the header fields that let us in at ``address``; empty for any but where they were typed for."""
    ours = access.credentials_for(address)
    if ours is None:
        return {}
    fields = ours.fields
    if ours.user_name and ours.sign_in == "basic":
        fields["Authorization"] = aiohttp.BasicAuth(ours.user_name, ours.password, "utf-8").encode()
    return fields


def _digest(access: Access) -> tuple[aiohttp.ClientMiddlewareType, ...]:
    """Return what answers a Digest challenge of where the hosts of a side are described to be."""
    answers = {
        one: aiohttp.DigestAuthMiddleware(one.user_name, one.password)
        for one in access.credentials
        if one.user_name and one.sign_in == "digest"
    }

    async def at_home(request: aiohttp.ClientRequest, handler: aiohttp.ClientHandlerType) -> aiohttp.ClientResponse:
        ours = access.credentials_for(addresses.normal(str(request.url)) or "")
        answer = answers.get(ours) if ours else None
        return await (answer(request, handler) if answer else handler(request))

    return (at_home,) if answers else ()


@cache
def _certificates(authorities: str, any_certificate: bool) -> ssl.SSLContext:
    context = ssl.create_default_context()
    # Names stand in the extension for them; the subject's common name is none (RFC 9525 section 2).
    context.hostname_checks_common_name = False
    if any_certificate:
        context.check_hostname = False
        context.verify_mode = ssl.CERT_NONE
    elif authorities:
        context.load_verify_locations(authorities)
    return context


def default_port(address: str) -> int:
    """Return the port that an address leads to."""
    parts = addresses.split(address)
    _, _, port = parts.host.rpartition(":")
    return int(port) if port.isdigit() else (443 if parts.scheme == "https" else 80)
