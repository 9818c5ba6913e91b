"""Connect-to lines as a person types them: ``203.0.113.40``, ``[2001:db8::1]:8443``, ``new.example:443``."""

import re

from palinode.core import address as addresses

Line = dict[str, str | int]
"""``host``, ``port``, ``address``, ``to_port``."""


class ConnectError(ValueError):
    """What was typed is no address to connect to; the message is for a person."""


def lines(base: str, typed: str, www: bool) -> list[Line]:
    """Return the lines that send a side's host to what was typed; none for an empty text.

    Without a port both 80 and 443 go there, so that a redirect from http to https stays on the same
    host; with a port, only the port of the base does. ``www`` adds the other of bare and www name.
    """
    typed = typed.strip()
    if not typed:
        return []
    found = re.fullmatch(r"(?:\[([0-9A-Fa-f:.]+)\]|([^\s:/\[\]]+))(?::(\d{1,5}))?", typed)
    if not found:
        if typed.count(":") > 1 and "[" not in typed:
            raise ConnectError("Write an IPv6 address in brackets, as in [2001:db8::1]:443.")
        raise ConnectError(
            "Type an IP address or a host name, and a port if it is not the usual one: 203.0.113.40:443."
        )
    to = found[1] or found[2]
    port = int(found[3]) if found[3] else None
    if port is not None and not 1 <= port <= 65535:
        raise ConnectError("A port is a number from 1 to 65535.")
    host, own_port = _host_port(base)
    hosts = [host, addresses.twin_host(host)] if www else [host]
    ports = [(own_port, port)] if port is not None else sorted({(80, 80), (443, 443), (own_port, own_port)})
    return [
        {"host": name, "port": from_port, "address": to, "to_port": to_port}
        for name in hosts
        for from_port, to_port in ports
    ]


def written(base: str, given: list[Line]) -> tuple[str, bool]:
    """Return the text and the www choice that :func:`lines` was given."""
    host, own_port = _host_port(base)
    own = [line for line in given if line["host"] == host]
    if not own:
        return "", False
    line = next((line for line in own if line["port"] == own_port), own[0])
    name = f"[{line['address']}]" if ":" in str(line["address"]) else str(line["address"])
    text = name if len(own) > 1 else f"{name}:{line['to_port']}"
    return text, any(line["host"] == addresses.twin_host(host) for line in given)


def host_name(base: str) -> str:
    """Return the host of an address without its port."""
    return _host_port(base)[0]


def _host_port(base: str) -> tuple[str, int]:
    parts = addresses.split(base)
    name, colon, port = parts.host.rpartition(":")
    if colon and port.isdigit():
        return name, int(port)
    return parts.host, 443 if parts.scheme == "https" else 80
