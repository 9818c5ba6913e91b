"""Fetches one address: asks, waits, asks again, and says in words why not."""

import asyncio
import ssl
import time
from collections.abc import Mapping
from types import MappingProxyType

import aiohttp
import yarl

from palinode.core import http_cache
from palinode.core.page import PASSING
from palinode.core.reason import FINAL, Reason
from palinode.gather import client
from palinode.gather.access import Access
from palinode.gather.exchange import BODY_LIMIT, Exchange, joined
from palinode.gather.guard import Forbidden

TRIES = 3
_PAUSE = (0.5, 2.0)
LONGEST_PAUSE = 10.0
"""Seconds: who asks for more is asked again by somebody who does not wait here."""
_COUNT = {1: "once", 2: "twice", 3: "three times"}


async def fetch(
    session: aiohttp.ClientSession,
    access: Access,
    address: str,
    tries: int = TRIES,
    fields: Mapping[str, str] = MappingProxyType({}),
    method: str = "GET",
) -> Exchange:
    """Ask for an address by ``method``, with further header ``fields``.

    Answers of the moment and failures are asked for again, unless the host asks to wait longer than LONGEST_PAUSE.
    Never raises.
    """
    for attempt in range(1, tries + 1):
        exchange = await _once(session, access, address, attempt, fields, method)
        again = exchange.status in PASSING or (exchange.status is None and exchange.why not in FINAL)
        if not again or attempt == tries:
            return exchange
        pause = _pause(exchange, attempt)
        if pause > LONGEST_PAUSE:
            return exchange
        await asyncio.sleep(pause)
    raise AssertionError("unreachable: the last try returns")


def _pause(exchange: Exchange, attempt: int) -> float:
    asked = retry_after(exchange)
    return _PAUSE[min(attempt, len(_PAUSE)) - 1] if asked is None else asked


def retry_after(exchange: Exchange) -> float | None:
    """Return the seconds that an answer asks to wait; None if it does not say."""
    return http_cache.retry_after(exchange.headers or {}, exchange.asked_at + exchange.took_ms / 1000)


async def _once(
    session: aiohttp.ClientSession,
    access: Access,
    address: str,
    attempt: int,
    fields: Mapping[str, str],
    method: str,
) -> Exchange:
    asked_at, started = time.time(), time.monotonic()

    def took() -> int:
        return round((time.monotonic() - started) * 1000)

    try:
        async with session.request(
            method,
            yarl.URL(address, encoded=True),
            allow_redirects=False,
            headers={**client.secret_fields(access, address), **fields},
        ) as response:
            peer = _peer(response)
            body, truncated = await _body(response)
            return Exchange(
                address=address,
                asked_at=asked_at,
                took_ms=took(),
                status=response.status,
                request_head=_request_head(response, access),
                response_head=_response_head(response),
                headers=_headers(response),
                body=body,
                peer=peer,
                truncated=truncated,
                has_body=method != "HEAD",
            )
    except (aiohttp.ClientError, OSError, TimeoutError, ValueError) as error:
        reason, said = why(error)
        words = reason.words(said, _COUNT.get(attempt, f"{attempt} times"))
        return Exchange(address, asked_at, took(), reason=words, why=reason)


async def _body(response: aiohttp.ClientResponse) -> tuple[bytes, bool]:
    read = bytearray()
    async for chunk in response.content.iter_any():
        read += chunk
        if len(read) > BODY_LIMIT:
            response.close()
            return bytes(read[:BODY_LIMIT]), True
    return bytes(read), False


def _peer(response: aiohttp.ClientResponse) -> str:
    connection = response.connection
    transport = connection.transport if connection else None
    name = transport.get_extra_info("peername") if transport else None
    return str(name[0]) if name else ""


def _request_head(response: aiohttp.ClientResponse, access: Access) -> bytes:
    info = response.request_info
    # What lets us in is never kept.
    secret = {"authorization", "cookie", *(one.header_name.lower() for one in access.credentials)}
    fields = (f"{k}: {v}" for k, v in info.headers.items() if k.lower() not in secret)
    target = info.url.raw_path_qs
    return "\r\n".join([f"{info.method} {target} HTTP/1.1", *fields, "", ""]).encode("utf-8", "replace")


def _response_head(response: aiohttp.ClientResponse) -> bytes:
    version = response.version or aiohttp.HttpVersion11
    line = f"HTTP/{version.major}.{version.minor} {response.status} {response.reason or ''}".encode()
    fields = [name + b": " + value for name, value in response.raw_headers if name.lower() != b"transfer-encoding"]
    return b"\r\n".join([line, *fields, b"", b""])


def _headers(response: aiohttp.ClientResponse) -> dict[str, str]:
    return joined(response.headers.items())


def why(error: BaseException) -> tuple[Reason, str]:
    """Return the reason why an address could not be fetched, and its details in words."""
    if forbidden := _forbidden(error):
        return Reason.FORBIDDEN, str(forbidden)
    if isinstance(error, aiohttp.ClientConnectorCertificateError):
        return Reason.CERTIFICATE, _certificate_fault(error.certificate_error)
    if isinstance(error, aiohttp.ClientConnectorError) and isinstance(error.os_error, ConnectionRefusedError):
        return Reason.NOBODY, ""
    for kinds, reason in _REASONS:
        if isinstance(error, kinds):
            said = getattr(error, "os_error", None)
            return reason, str(said.strerror or said) if reason is Reason.NO_CONNECTION and said else ""
    return Reason.NO_HTTP, ""


_REASONS: tuple[tuple[tuple[type[BaseException], ...], Reason], ...] = (
    ((aiohttp.ClientConnectorDNSError,), Reason.UNRESOLVED),
    ((aiohttp.ClientConnectorSSLError, ssl.SSLError), Reason.NO_TLS),
    ((TimeoutError,), Reason.TIMED_OUT),
    ((aiohttp.ClientConnectorError,), Reason.NO_CONNECTION),
    ((aiohttp.ServerDisconnectedError, ConnectionResetError), Reason.HUNG_UP),
    ((aiohttp.ClientPayloadError,), Reason.BROKE_OFF),
    ((aiohttp.InvalidURL, ValueError), Reason.NO_ADDRESS),
)
"""Kinds of errors with their reasons; the first that fits holds."""


def _forbidden(error: BaseException) -> Forbidden | None:
    if isinstance(error, aiohttp.ClientConnectorError):
        error = error.os_error
    if isinstance(error, Forbidden):
        return error
    inner = getattr(error, "exceptions", ())
    return next((one for one in inner if isinstance(one, Forbidden)), None)


def _certificate_fault(error: Exception) -> str:
    return getattr(error, "verify_message", "") or str(error)
