"""Addresses: URLs in the normal form of the WHATWG URL standard, without fragment.

- ``normal("HTTP://Mill.example:80/a/../b#top") == "http://mill.example/b"``
- ``normal("../b?x=1", "http://mill.example/a/c") == "http://mill.example/b?x=1"``
- ``normal("mailto:a@mill.example")`` is ``None``: only http and https are addresses
- ``split("http://mill.example:8080/b?x")`` is ``("http", "mill.example:8080", "/b", "?x")``
- ``section("http://mill.example/journal/2019")`` is ``"/journal"``; a home page's is ``"/"``
- ``section("http://shop.mill.example/rye/1kg", "http://mill.example/")`` is ``"shop.mill.example/rye"``
- ``ident(address)`` is the same number in every capture, on every side, on every machine

Nothing else is guessed into the normal form: letter case, order of a query and
trailing slashes stay as they were.
"""

import hashlib
import re
from collections.abc import Mapping
from typing import NamedTuple

import ada_url
import numpy as np

MAX_LENGTH = 8_000
"""Characters; a longer address is not followed (RFC 9110 section 4.1 asks for at least 8000)."""


class AddressError(ValueError):
    """What a person typed is not an address; the message says why and what to do."""


class Parts(NamedTuple):
    """An address cut into its four parts; joined they give the address again."""

    scheme: str
    host: str
    """Host and, unless it is the scheme's own, port."""
    path: str
    query: str
    """With its leading ``?``, or empty."""

    @property
    def text(self) -> str:
        """The address itself."""
        return f"{self.scheme}://{self.host}{self.path}{self.query}"


def normal(text: str, base: str | None = None) -> str | None:
    """Return the normal form of ``text``, resolved against ``base``, or None if it is no address."""
    if len(text) > MAX_LENGTH:
        return None
    try:
        href = ada_url.join_url(base, text) if base else ada_url.normalize_url(text)
    except ValueError:
        return None
    # What is written briefly may be long when each sign of it is encoded.
    if len(href) > MAX_LENGTH or not href.startswith(("http://", "https://")):
        return None
    cut = href.find("#")
    return href if cut < 0 else href[:cut]


def typed(text: str) -> str:
    """Return the normal form of an address typed by a person.

    Raises AddressError with a message for that person.
    """
    text = text.strip()
    if not text:
        raise AddressError("Type the address, as in https://www.mill.example/.")
    if re.search(r"\s", text):
        raise AddressError("An address has no blanks in it. Take them out, or write %20 for each.")
    scheme = re.match(r"([A-Za-z][A-Za-z0-9+.-]*):(?!\d+(/|$))", text)
    if not scheme:
        raise AddressError(f"The scheme is missing. Is it https://{text.lstrip('/')} ?")
    if scheme[1].lower() not in ("http", "https"):
        raise AddressError(f"{scheme[1]}: is not an address of a website. Use http:// or https://.")
    if not re.match(r"https?://[^/?#]", text, re.IGNORECASE):
        raise AddressError("After http: or https: two slashes and a host name are needed.")
    if "@" in re.split(r"[/?#]", text.split("://", 1)[1])[0]:
        raise AddressError(
            "Leave the user name and password out of the address; there are fields of their own for them."
        )
    if len(text) > MAX_LENGTH:
        raise AddressError(f"An address may have {MAX_LENGTH:,} characters; this has {len(text):,}.")
    address = normal(text)
    if address is None:
        raise AddressError("This is not a valid address: check the host name and the port.")
    return address


def ident(address: str) -> int:
    """Return the address's identity: a signed 64-bit number.

    It is the first eight bytes, big-endian, of BLAKE2b (RFC 7693) over the UTF-8 of the normal form.
    """
    return int.from_bytes(hashlib.blake2b(address.encode()).digest()[:8], "big", signed=True)


def idents(many: list[str]) -> np.ndarray:
    """Return the identities of many addresses: int64 of shape (n,), in their order."""
    digests = b"".join([hashlib.blake2b(address.encode()).digest()[:8] for address in many])
    return np.frombuffer(digests, ">i8").astype(np.int64)


def origin(address: str) -> str:
    """Return scheme and host of an address, with its port if it has one: ``https://mill.example``."""
    parts = split(address)
    return f"{parts.scheme}://{parts.host}"


def beginnings(host: str) -> list[str]:
    """Return how addresses of a host begin: both schemes, bare and www name."""
    return [f"{scheme}://{name}/" for scheme in ("http", "https") for name in (host, twin_host(host))]


def at_origin(address: str, origins: Mapping[str, str]) -> str:
    """Return an address with its own path at the origin that takes the place of its own."""
    own = address[: address.find("/", 8)]
    return origins.get(own, own) + address[len(own) :]


def split(address: str) -> Parts:
    """Cut an address that is in its normal form into its parts."""
    scheme, _, rest = address.partition("://")
    rest, mark, query = rest.partition("?")
    host, slash, path = rest.partition("/")
    return Parts(scheme, host, slash + path, mark + query)


def path(address: str) -> str:
    """Return path and query of an address in normal form."""
    return address[address.find("/", 8) :]


def places(many: list[str], home: str) -> list[str]:
    """Return where addresses stand on a side: path and query, with the host before them where it is not the home's."""
    main = bare_host(split(home).host)
    before: dict[str, str] = {}
    found = []
    for address in many:
        at = address.find("/", 8)
        start = address[:at]
        if (host := before.get(start)) is None:
            host = bare_host(split(start).host)
            host = before[start] = "" if host == main else host
        found.append(host + address[at:])
    return found


def section(address: str, home: str = "") -> str:
    """Return the section of an address: the first segment of its path with its slash; ``/`` for the home page.

    With the address of a side's ``home`` page, the host stands before it where it is another.
    """
    return section_of(places([address], home)[0] if home else path(address))


def section_of(place: str) -> str:
    """Return the first segment of a place (as :func:`places` gives it), with what stands before it."""
    host, _, rest = place.partition("/")
    return f"{host}/{rest.split('/', 1)[0].split('?', 1)[0]}"


def bare_host(host: str) -> str:
    """Return ``host`` without a leading ``www.``."""
    return host.removeprefix("www.")


def twin_host(host: str) -> str:
    """Return the www name of a bare host, and the bare name of a www host."""
    return host[4:] if host.startswith("www.") else f"www.{host}"
