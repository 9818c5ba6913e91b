"""The outbound guard: one gate at the socket, for every connection, redirects included.

It sees the address that is really connected to, whether it was typed, resolved, or came by a
connect-to line. Public addresses pass. Private, loopback, link-local, multicast and other special
networks (special.py) are refused, unless the installation allows a network together with a port.
"""

import ipaddress
import socket
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from palinode.gather import special


class Forbidden(PermissionError):
    """The guard refused a connection.

    The message does not say where a name leads: whoever reads it may not be one who may know.
    """

    def __init__(self, address: str, port: int) -> None:
        super().__init__("it leads to a private or special network")
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
        if isinstance(ip, ipaddress.IPv6Address) and ip.ipv4_mapped:
            # The system connects to the IPv4 address itself.
            ip = ip.ipv4_mapped
        if any(one.first <= port <= one.last and ip in one.network for one in self.allowed):
            return
        if not special.is_public(ip):
            raise Forbidden(address, port)

    def socket(self, info: tuple[Any, Any, int, str, tuple[Any, ...]]) -> socket.socket:
        """Make the socket for an address information tuple (aiohttp's socket factory)."""
        family, kind, protocol, _, to = info
        self.check(str(to[0]), int(to[1]))
        return socket.socket(family, kind, protocol)
