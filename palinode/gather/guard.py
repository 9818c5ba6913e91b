"""The outbound guard: one gate at the socket, for every connection, redirects included.

It sees the address that is really connected to, whether it was typed, resolved, or came by a
connect-to line. Public addresses pass. Private, loopback, link-local, multicast and other special
networks are refused, unless the installation allows a network together with a port.
"""

import ipaddress
import socket
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

IPAddress = ipaddress.IPv4Address | ipaddress.IPv6Address
_NAT64 = ipaddress.IPv6Network("64:ff9b::/96")


class Forbidden(PermissionError):
    """The guard refused a connection."""

    def __init__(self, address: str, port: int) -> None:
        super().__init__(f"{address} port {port} is in a private or special network")
        self.address = address
        self.port = port


@dataclass(frozen=True)
class Allowed:
    """A network that is let through on a range of ports."""

    network: ipaddress.IPv4Network | ipaddress.IPv6Network
    first: int
    last: int

    @classmethod
    def parse(cls, text: str) -> "Allowed":
        """Read ``127.0.0.1/32:8101``, ``127.0.0.1:8101-8109`` or ``[::1]:8101``.

        Raises ValueError when it is not of this form.
        """
        network, _, ports = text.rpartition(":")
        first, _, last = ports.partition("-")
        try:
            return cls(ipaddress.ip_network(network.replace("[", "").replace("]", "")), int(first), int(last or first))
        except ValueError:
            raise ValueError(f"{text!r} is not a network with a port, as 127.0.0.1/32:8101") from None


class Guard:
    """Checks addresses and makes the sockets to them."""

    def __init__(self, allowed: Iterable[str] = ()) -> None:
        self.allowed = tuple(Allowed.parse(text) for text in allowed)

    def check(self, address: str, port: int) -> None:
        """Raise Forbidden unless ``address`` (literal) and ``port`` may be connected to."""
        ip = ipaddress.ip_address(address.partition("%")[0])
        inner = _inner(ip)
        if any(one.first <= port <= one.last and inner in one.network for one in self.allowed):
            return
        if not inner.is_global or inner.is_multicast or (not ip.is_global and inner is ip):
            raise Forbidden(address, port)

    def socket(self, info: tuple[Any, Any, int, str, tuple[Any, ...]]) -> socket.socket:
        """Make the socket for an address information tuple (aiohttp's socket factory)."""
        family, kind, protocol, _, to = info
        self.check(str(to[0]), int(to[1]))
        return socket.socket(family, kind, protocol)


def _inner(ip: IPAddress) -> IPAddress:
    """Return the IPv4 address that an IPv6 address carries, else the address itself."""
    if isinstance(ip, ipaddress.IPv4Address):
        return ip
    if ip.ipv4_mapped:
        return ip.ipv4_mapped
    if ip.sixtofour:
        return ip.sixtofour
    if ip.teredo:
        return ip.teredo[1]
    if ip in _NAT64:
        return ipaddress.IPv4Address(int(ip) & 0xFFFFFFFF)
    return ip
