"""Who answers at an address: asked once, without a capture."""

import asyncio
import hashlib
import ipaddress
import ssl
from collections.abc import Awaitable, Callable
from dataclasses import dataclass, replace
from datetime import UTC, datetime

from cryptography import x509

from palinode.core import address as addresses
from palinode.core import facts as core_facts
from palinode.core import page
from palinode.core.fields import Place
from palinode.core.host_probe import Answers, Certificate, Hop
from palinode.core.reason import Reason
from palinode.core.scope import AskedFor, Scope
from palinode.core.wording import sentence
from palinode.gather import client
from palinode.gather.access import Access
from palinode.gather.exchange import Exchange
from palinode.gather.fetch import fetch
from palinode.gather.guard import Guard

_HOPS = 6
_EXAMPLES = 5
_SERVER = 200
"""Characters of what a server says of itself."""


@dataclass(frozen=True)
class Seen:
    """What is seen of a site on one page of it."""

    title: str = ""
    examples: tuple[str, ...] = ()
    digest: str = ""
    fault: str = ""
    """Why it could not be read, in words."""


Look = Callable[[str, Exchange], Awaitable[Seen]]
"""Looks at what answered a side, in a process that it cannot stop: see :func:`look`."""


async def who(access: Access, guard: Guard, agent: str, looks: Look, asked: str = "") -> Answers:
    """Ask an address of a side once, its home page by default, and follow its redirects.

    Never raises for what the host does.
    """
    address = asked = asked or access.base
    certificate, reached = await _connect(access, guard, asked)
    hops: list[Hop] = []
    async with client.session(access, guard, 1, agent) as session:
        while True:
            exchange = await fetch(session, access, address, tries=1)
            location = (exchange.headers or {}).get("location", "")
            to = addresses.normal(location, address) if location else None
            if exchange.status not in page.REDIRECTS or to is None:
                break
            hops.append(Hop(address, exchange.status or 0, to))
            if len(hops) >= _HOPS or any(hop.address == to for hop in hops):
                fault = (
                    "It redirects in a circle." if any(hop.address == to for hop in hops) else "It redirects too often."
                )
                return Answers(asked, reached, exchange.took_ms, exchange.status, tuple(hops), fault=fault)
            address = to
    if exchange.status is None:
        answers = Answers(asked, hops=tuple(hops), took_ms=exchange.took_ms, fault=_advice(exchange))
        return replace(answers, reached=reached or exchange.peer, certificate=certificate)
    headers, seen = exchange.headers or {}, await looks(access.base, exchange)
    return Answers(
        address=asked,
        reached=reached or exchange.peer,
        took_ms=exchange.took_ms,
        status=exchange.status,
        hops=tuple(hops),
        title=seen.title,
        server=", ".join(headers[name] for name in ("server", "x-powered-by") if headers.get(name))[:_SERVER],
        certificate=certificate,
        fault=seen.fault,
        digest=seen.digest,
        examples=seen.examples,
    )


def look(base: str, exchange: Exchange) -> Seen:
    """Look at the answer of the site at ``base``; to be run in a process of its own."""
    body, _ = exchange.decoded()
    digest = hashlib.blake2b(body, digest_size=16).hexdigest()
    if not page.is_html(page.media_type((exchange.headers or {}).get("content-type", ""))):
        return Seen(digest=digest)
    facts = core_facts.read(exchange.address, exchange.headers or {}, body)
    scope, examples = Scope((base,)), dict.fromkeys([base])
    for reference in facts.references:
        if len(examples) > _EXAMPLES:
            break
        if scope.asked_for(reference.address, Place(reference.place)) == AskedFor.PAGE:
            examples[reference.address] = None
    return Seen(facts.title, tuple(examples)[1:], digest)


async def certificate(access: Access, guard: Guard) -> Certificate | None:
    """Return the certificate with which a side's host answers, whether it fits or not; None if there is none."""
    found, _ = await _connect(access, guard, access.base)
    return found


_ADVICE = {
    Reason.UNRESOLVED: "Check the name, or give an address to connect to.",
    Reason.FORBIDDEN: "Set PALINODE_ALLOW_NETWORKS if it is meant.",
    Reason.CERTIFICATE: "Tick “go on regardless” if you know why.",
    Reason.NOBODY: "Check the port, or that the host is running.",
    Reason.TIMED_OUT: "Check the port, or that the host is running.",
}


def _advice(exchange: Exchange) -> str:
    """Return why an address could not be asked as a sentence, with what to do."""
    said = sentence(exchange.reason.removeprefix("refused: ")) + "."
    return f"{said} {_ADVICE[exchange.why]}" if exchange.why in _ADVICE else said


async def _connect(access: Access, guard: Guard, address: str) -> tuple[Certificate | None, str]:
    """Connect once as the client would, and look at the certificate whether it fits or not."""
    parts = addresses.split(address)
    port = client.default_port(address)
    host = parts.host.removesuffix(f":{port}").strip("[]")
    loop = asyncio.get_running_loop()
    resolver = client.Resolver(access)
    try:
        found = await resolver.resolve(host, port)
        one = found[0]
        family = one["family"]
        async with asyncio.timeout(10):
            sock = guard.socket((family, 1, one["proto"], "", (one["host"], one["port"])))
            sock.setblocking(False)
            await loop.sock_connect(sock, (one["host"], one["port"]))
            reached = f"{one['host']}:{one['port']}"
            if parts.scheme == "http":
                sock.close()
                return None, reached
            return await _certificate(sock, host), reached
    except (OSError, TimeoutError, ssl.SSLError, IndexError):
        return None, ""
    finally:
        await resolver.close()


async def _certificate(sock: object, host: str) -> Certificate | None:
    context = ssl.create_default_context()
    context.check_hostname = False
    context.verify_mode = ssl.CERT_NONE
    _, writer = await asyncio.open_connection(sock=sock, ssl=context, server_hostname=host)
    try:
        tls = writer.get_extra_info("ssl_object")
        data = tls.getpeercert(binary_form=True) if tls else None
        return read_certificate(data, host, datetime.now(UTC)) if data else None
    finally:
        writer.close()


def read_certificate(data: bytes, host: str, now: datetime) -> Certificate:
    """Read a DER certificate; names are matched as RFC 9525 section 6 says.

    Only names of the extension for them count, whatever the subject's common name is; a wildcard stands for the
    first label alone, and for no address.
    """
    certificate = x509.load_der_x509_certificate(data)
    try:
        names = certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except x509.ExtensionNotFound:
        names = x509.SubjectAlternativeName([])
    dns = [name.lower() for name in names.get_values_for_type(x509.DNSName)]
    ips = [str(ip) for ip in names.get_values_for_type(x509.IPAddress)]
    days = (certificate.not_valid_after_utc - now).days
    wanted = {host} if is_literal(host) else {host, f"*.{host.partition('.')[2]}"}
    covered = not wanted.isdisjoint(ips if is_literal(host) else dns)
    return Certificate((*dns, *ips), days, covered and days >= 0)


def is_literal(host: str) -> bool:
    """Whether a host is an IP address, which only a certificate's addresses may cover."""
    try:
        ipaddress.ip_address(host)
    except ValueError:
        return False
    return True
