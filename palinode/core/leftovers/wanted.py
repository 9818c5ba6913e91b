"""What is looked for: the names of the old site, and what else belonged to it."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property

from palinode.core import address as addresses
from palinode.core.rule import Rule

_IP = re.compile(r"\d{1,3}(?:\.\d{1,3}){3}|\[?[0-9a-f]*:[0-9a-f:]*:[0-9a-f:.]*\]?", re.IGNORECASE)


@dataclass(frozen=True)
class OldName:
    """A host name of the old site."""

    host: str
    """In small letters, without port."""
    folder: str = "/"
    """Addresses below it are old; the others of the host are not."""
    scheme: str = ""
    """Addresses of this scheme alone are old: the name stays, and becomes https."""
    port: str | None = None
    """Addresses of this port alone are old, empty for the scheme's own: the name stays, at another one."""

    @property
    def is_whole(self) -> bool:
        """Whether the name itself is old, whatever stands behind it."""
        return self.folder == "/" and not self.scheme and self.port is None


@dataclass(frozen=True)
class Wanted:
    """All that is looked for."""

    names: tuple[OldName, ...] = ()
    paths: tuple[str, ...] = ()
    """Folders of the old server's disk, without a slash at their end."""
    numbers: tuple[str, ...] = ()
    """IP addresses."""
    in_base64: bool = False
    """They are looked for in what is written in base64 as well."""
    staying: tuple[str, ...] = ()
    """Host names of the new site, in small letters: one that stands below an old name is right as it is."""

    def __bool__(self) -> bool:
        return bool(self.names or self.paths or self.numbers)

    @cached_property
    def by_host(self) -> dict[str, OldName]:
        """The names by their hosts."""
        return {one.host: one for one in self.names}

    @cached_property
    def fragments(self) -> tuple[bytes, ...]:
        """In small letters: what each text holds that holds any of them, but for base64."""
        labels = [max(one.host.split("."), key=len) for one in self.names]
        escaped = [one.replace("/", "\\/") for one in self.paths]
        return tuple(dict.fromkeys(one.lower().encode() for one in (*labels, *self.paths, *escaped, *self.numbers)))

    def may_be_in(self, data: bytes) -> bool:
        """Whether a text may hold any of them: a look that costs little, before one that costs more."""
        lower = data.lower()
        return any(one in lower for one in self.fragments) or (self.in_base64 and bool(self))


def fragments_of(bases: Sequence[str]) -> tuple[bytes, ...]:
    """Return what each text holds, in small letters, that holds the name of a home page's host."""
    hosts = [addresses.split(base).host.partition(":")[0] for base in bases]
    return tuple(dict.fromkeys(max(host.split("."), key=len).encode() for host in hosts))


def of_move(
    old: Sequence[str], new: Sequence[str], rule: Rule, more: Iterable[str] = (), base64: bool = False
) -> Wanted:
    """Return what is looked for, given the home pages of the old and the new hosts.

    ``more`` are lines that a person typed: a host name, an address, an IP address, a folder of the old server's disk.
    """
    names: dict[str, OldName] = {}
    for base in old:
        parts = addresses.split(base)
        for host in dict.fromkeys((parts.host, addresses.twin_host(parts.host))):
            if one := _old_name(host, parts.path, parts.scheme, new, rule):
                names.setdefault(one.host, one)
    paths, numbers = [], []
    for line in map(str.strip, more):
        if line.startswith("/") and line.strip("/"):
            paths.append(line.rstrip("/"))
        elif _IP.fullmatch(line):
            numbers.append(line.strip("[]"))
        elif line:
            typed = addresses.normal(line if "://" in line else f"http://{line.lstrip('/')}")
            if typed:
                parts = addresses.split(typed)
                host = parts.host.partition(":")[0]
                names[host] = OldName(host, parts.path if parts.path.endswith("/") else f"{parts.path}/")
    staying = [addresses.split(base).host for base in new]
    staying += [addresses.split(one.temporary).host for one in rule.forms.pairs] if rule.forms else []
    hosts = {one.partition(":")[0] for host in staying for one in (host, addresses.twin_host(host))}
    found = tuple(names.values()), tuple(dict.fromkeys(paths)), tuple(dict.fromkeys(numbers))
    return Wanted(*found, base64, tuple(sorted(hosts)))


def _old_name(host: str, folder: str, scheme: str, new: Sequence[str], rule: Rule) -> OldName | None:
    """Return what of a host is old: its name, one of its folders, one of its schemes; None for nothing."""
    name = host.partition(":")[0]
    staying = [one for one in map(addresses.split, new) if addresses.bare_host(one.host) == addresses.bare_host(host)]
    if not staying:
        stays = name in {addresses.split(one).host.partition(":")[0] for one in new}
        return OldName(name, port=host.partition(":")[2] if stays else None)
    expected = addresses.split(rule.expect(f"{scheme}://{host}{folder}").address)
    if expected.path != folder and folder != "/":
        return OldName(name, folder)
    if scheme == "http" and expected.scheme == "https":
        return OldName(name, scheme="http")
    return None
