"""Networks that are no place of a public website: the special-purpose address registries, and multicast.

IPv4: the IANA registry of RFC 6890 and its updates, RFC 5771. IPv6: only global unicast, 2000::/3 (RFC 4291 section
2.4), without what the registry sets apart in it; so IPv4-compatible, translated, site-local, link-local and unique
local addresses, and multicast, are out without being named.
"""

import ipaddress

IPv4 = [
    ipaddress.IPv4Network(one)
    for one in (
        "0.0.0.0/8",  # this network, RFC 791
        "10.0.0.0/8",  # private, RFC 1918
        "100.64.0.0/10",  # shared by carriers, RFC 6598
        "127.0.0.0/8",  # loopback, RFC 1122
        "169.254.0.0/16",  # link-local, RFC 3927
        "172.16.0.0/12",  # private, RFC 1918
        "192.0.0.0/24",  # protocol assignments, RFC 6890
        "192.0.2.0/24",  # documentation, RFC 5737
        "192.31.196.0/24",  # AS112, RFC 7535
        "192.52.193.0/24",  # tunnels for multicast, RFC 7450
        "192.88.99.0/24",  # relays of 6to4, RFC 7526
        "192.168.0.0/16",  # private, RFC 1918
        "192.175.48.0/24",  # AS112, RFC 7534
        "198.18.0.0/15",  # benchmarks, RFC 2544
        "198.51.100.0/24",  # documentation, RFC 5737
        "203.0.113.0/24",  # documentation, RFC 5737
        "224.0.0.0/4",  # multicast, RFC 5771
        "240.0.0.0/4",  # reserved, RFC 1112; with the broadcast address, RFC 8190
    )
]

GLOBAL_UNICAST = ipaddress.IPv6Network("2000::/3")

IPv6 = [
    ipaddress.IPv6Network(one)
    for one in (
        "2001::/23",  # protocol assignments, RFC 2928; Teredo, benchmarks and ORCHID are in it
        "2001:db8::/32",  # documentation, RFC 3849
        "2002::/16",  # 6to4, RFC 3056
        "2620:4f:8000::/48",  # AS112, RFC 7534
        "3fff::/20",  # documentation, RFC 9637
    )
]


def is_public(ip: ipaddress.IPv4Address | ipaddress.IPv6Address) -> bool:
    """Whether a public website can answer at an address."""
    if isinstance(ip, ipaddress.IPv4Address):
        return not any(ip in one for one in IPv4)
    return ip in GLOBAL_UNICAST and not any(ip in one for one in IPv6)
